/** Writing a sentence: its lines, what each would touch, and what in it cannot be meant, while it is written. */

import {
  LONGEST_SENTENCE_NAME,
  MOST_OF_SENTENCE,
  NOTHING,
  newChange,
  newCondition,
  problemsOf,
  SENTENCE_VERSION,
  type Sentence,
  type SentenceLine,
  type SentenceRun,
} from '@crispfold/core';
import { Plus, X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'react-redux';
import { toast } from 'sonner';
import type { Calls } from '../../../engine/protocol.js';
import { isSessionOver } from '../../../engine/protocol.js';
import { Button } from '../../../ui/Button.js';
import { counted } from '../../../ui/words.js';
import { askedOf, doSentence } from '../../actions/doSentence.js';
import { DoOrHear, useTried } from '../../controls/SettingsPanel.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { keepSentences } from '../../session/savedSentences.js';
import { useRevision } from '../../session/useWritten.js';
import { inList } from '../../state/ownKeys.js';
import { type RootState, useAppSelector } from '../../state/root.js';
import { selectArrangement, selectEditable, selectReached } from '../../state/selectors.js';
import { steppingActions } from '../../state/steppingSlice.js';
import { LineEditor } from './LineEditor.js';

/** A sentence to begin with. */
export const NEW_SENTENCE: Sentence = {
  version: SENTENCE_VERSION,
  name: '',
  lines: [{ where: [[newCondition('velocity')]], do: [newChange('addVelocity')] }],
};

/** Of more notes than these the effect is not drawn while writing. */
const MOST_TRIED = 8000;

/** What each line would touch, newest first; the notes of one line are tinted in the roll. */
const useCounts = (sentence: Sentence, line: number) => {
  const { engine } = useDesk();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const selection = useAppSelector(selectEditable);
  const reached = useAppSelector(selectReached);
  const revision = useRevision();
  const [counts, setCounts] = useState<Calls['sentenceCounts']['answers'] | null>(null);
  const [run, setRun] = useState<SentenceRun | null>(null);
  const [problem, setProblem] = useState('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: asks again for another selection, reach or arrangement
  useEffect(() => {
    let current = true;
    const ask = async () => {
      const asked = askedOf(store.getState(), sentence);
      const answer = await engine.ask('sentenceCounts', { ...asked, line });
      if (!current) return;
      setCounts(answer);
      setProblem('');
      dispatch(steppingActions.picked(answer.picked));
      const total = answer.lines.reduce((sum, { parts }) => parts.reduce((all, { count }) => all + count, sum), 0);
      const made = total > 0 && total <= MOST_TRIED ? await engine.ask('sentenceRun', asked) : null;
      if (current) setRun(made);
    };
    ask().catch((error: unknown) => {
      if (current && !isSessionOver(error)) setProblem(`It cannot be counted: ${(error as Error).message}`);
    });
    return () => {
      current = false;
    };
  }, [sentence, line, selection, reached, revision]);
  useEffect(() => () => void dispatch(steppingActions.picked(NOTHING)), [dispatch]);
  useTried(run?.edit ?? null);
  return { counts, problem };
};

type LineCount = Calls['sentenceCounts']['answers']['lines'][number];

/** One line: what it says, what it would touch, and what in it cannot be meant. */
const LineSection = ({
  at,
  alone,
  line,
  counted: touches,
  problems,
  onFocus,
  onChange,
  onTakenOut,
}: {
  at: number;
  alone: boolean;
  line: SentenceLine;
  counted: LineCount | undefined;
  problems: readonly string[] | undefined;
  onFocus: () => void;
  onChange: (line: SentenceLine) => void;
  onTakenOut: () => void;
}) => {
  const count = touches?.parts.reduce((sum, one) => sum + one.count, 0);
  return (
    <section aria-label={`Line ${at + 1}`} onFocus={onFocus}>
      {!alone && (
        <p className="flex items-center">
          <span className="flex-1 font-serif">{at === 0 ? 'First' : 'Then'}</span>
          <Button
            look="quiet"
            className="!px-1"
            aria-label={`Take out line ${at + 1}`}
            title="Take this line out"
            onClick={onTakenOut}
          >
            <X size={14} aria-hidden />
          </Button>
        </p>
      )}
      <LineEditor number={at + 1} line={line} onChange={onChange} />
      <div role="status" className="px-1 pt-1">
        <b>{count === undefined ? '…' : counted(count, 'note')}</b>
        {count !== undefined && count > 0 && (
          <span className="text-soft">: {touches?.parts.map((one) => `${one.count} in ${one.name}`).join(', ')}</span>
        )}
        {touches?.notices.map((words) => (
          <span key={words} className="block text-soft">
            {words}
          </span>
        ))}
      </div>
      {problems?.map((words) => (
        <p key={words} role="alert" className="px-1 text-fold-ink">
          {words}
        </p>
      ))}
    </section>
  );
};

/** Its name and its key, under which it is kept for any arrangement. */
const Keeping = ({
  sentence,
  onChange,
  onKept,
}: {
  sentence: Sentence;
  onChange: (sentence: Sentence) => void;
  onKept: () => void;
}) => {
  const dispatch = useAppDispatch();
  const keys = useAppSelector((state) => state.keys.own);
  const keep = async () => {
    try {
      await dispatch(keepSentences([{ ...sentence, name: sentence.name.trim() }]));
      toast.success(`Sentence “${sentence.name.trim()}” kept`);
      onKept();
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  return (
    <div className="flex flex-wrap items-end gap-2 border-t border-rule pt-2">
      <label className="flex min-w-0 flex-1 flex-col">
        Name
        <input
          className="min-h-7 min-w-0 border border-strong bg-sheet px-1.5"
          maxLength={LONGEST_SENTENCE_NAME}
          value={sentence.name}
          onChange={(event) => onChange({ ...sentence, name: event.target.value })}
        />
      </label>
      <label className="flex flex-col" title="A letter or digit that does it, after the key of the list of sentences">
        Key
        <input
          className="min-h-7 w-10 border border-strong bg-sheet px-1.5 text-center"
          maxLength={1}
          value={sentence.key ?? ''}
          onChange={(event) => {
            const key = event.target.value.toLowerCase();
            const taken = inList(keys, 'sentences').some(([letter]) => letter === key);
            onChange({ ...sentence, key: /^[a-z0-9]$/.test(key) && !taken ? key : undefined });
          }}
        />
      </label>
      <Button
        disabled={sentence.name.trim() === ''}
        title="Keep this sentence for any arrangement"
        onClick={() => void keep()}
      >
        Keep
      </Button>
    </div>
  );
};

export const SentenceBuilder = ({
  from,
  onDone,
  onBack,
}: {
  from: Sentence;
  onDone: () => void;
  onBack: () => void;
}) => {
  const dispatch = useAppDispatch();
  const { parts } = useAppSelector(selectArrangement);
  const reached = useAppSelector(selectReached);
  const [sentence, setSentence] = useState(from);
  const [line, setLine] = useState(0);
  const { counts, problem } = useCounts(sentence, Math.min(line, sentence.lines.length - 1));
  const problems = useMemo(
    () =>
      problemsOf(
        sentence,
        parts.map((part) => part.name),
      ),
    [sentence, parts],
  );
  const touched = counts?.lines.reduce((sum, own) => own.parts.reduce((all, { count }) => all + count, sum), 0);
  const setLines = (lines: readonly SentenceLine[]) => setSentence({ ...sentence, lines });
  return (
    <form
      className="flex flex-col gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch(doSentence(sentence));
        onDone();
      }}
    >
      <p className="text-soft">
        {reached.length === 0
          ? 'No part is in reach: show or unlock one.'
          : `In reach: ${reached.length <= 2 ? reached.map((part) => part.name).join(', ') : counted(reached.length, 'part')}.`}
      </p>
      {sentence.lines.map((own, at) => (
        <LineSection
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place in the sentence
          key={at}
          at={at}
          alone={sentence.lines.length === 1}
          line={own}
          counted={counts?.lines[at]}
          problems={problems[at]}
          onFocus={() => setLine(at)}
          onChange={(next) => setLines(sentence.lines.map((old, index) => (index === at ? next : old)))}
          onTakenOut={() => setLines(sentence.lines.filter((_, index) => index !== at))}
        />
      ))}
      {problem && (
        <p role="alert" className="text-fold-ink">
          {problem}
        </p>
      )}
      <Button
        look="quiet"
        className="self-start !px-1"
        disabled={sentence.lines.length >= MOST_OF_SENTENCE}
        onClick={() => {
          setLines([...sentence.lines, ...NEW_SENTENCE.lines]);
          setLine(sentence.lines.length);
        }}
      >
        <Plus size={14} aria-hidden /> Then another line
      </Button>
      <DoOrHear disabled={!touched}>Do it{touched ? ` · ${touched}` : ''}</DoOrHear>
      <Keeping sentence={sentence} onChange={setSentence} onKept={onBack} />
      <Button look="quiet" className="self-start !px-1" onClick={onBack}>
        ‹ All sentences
      </Button>
    </form>
  );
};
