/** Sentences: those kept and the ready ones, to do, to change, to take away as a file; and the builder of a new one. */

import { sentencesFromFile, sentencesToFile } from '@crispfold/contract';
import { lineInWords, READY_SENTENCES, type Sentence } from '@crispfold/core';
import { Plus, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { FileButtons } from '../../../ui/FileButtons.js';
import { doSentence } from '../../actions/doSentence.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch } from '../../session/desk.js';
import { forgetSentence, keepSentences, loadSentences } from '../../session/savedSentences.js';
import { LISTS } from '../../state/keyTable.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { NEW_SENTENCE, SentenceBuilder } from './SentenceBuilder.js';

export const SentencesPanel = ({ writing }: { writing: boolean }) => {
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState<Sentence | null>(writing ? NEW_SENTENCE : null);
  const close = () => dispatch(layoutActions.toolShown(null));
  return (
    <SettingsPanel
      // Each of the two takes the keys when it comes.
      key={open ? 'one' : 'all'}
      title={open ? 'Where … do …' : 'Sentences'}
      explanation={
        open
          ? 'Picks notes by what they are, among the parts in reach, and changes them. Nothing happens before “Do it”.'
          : 'Where notes are like this, do that. On the parts in reach, as one change that can be undone.'
      }
      onClose={close}
    >
      {open ? (
        <SentenceBuilder key={open.name} from={open} onDone={close} onBack={() => setOpen(null)} />
      ) : (
        <SentenceList onOpen={setOpen} onDone={close} />
      )}
    </SettingsPanel>
  );
};

const tell = (error: unknown) => toast.error((error as Error).message);

const SentenceList = ({ onOpen, onDone }: { onOpen: (sentence: Sentence) => void; onDone: () => void }) => {
  const keyOf = useKeyOf();
  const dispatch = useAppDispatch();
  const saved = useAppSelector(({ kept }) => kept.sentences);
  useEffect(() => {
    if (!saved) dispatch(loadSentences()).catch(tell);
  }, [saved, dispatch]);
  const bring = async (text: string) => {
    const read = sentencesFromFile(text);
    if (!read.ok) {
      toast.error(read.message, { duration: 9000 });
      return;
    }
    await dispatch(keepSentences(read.sentences)).catch(tell);
    toast.success(read.sentences.length === 1 ? 'One sentence kept' : `${read.sentences.length} sentences kept`);
  };
  return (
    <div className="flex flex-col gap-3 text-sm">
      <div className="flex flex-wrap gap-1">
        <Button look="main" hint={keyOf('writeSentence')} onClick={() => onOpen(NEW_SENTENCE)}>
          <Plus size={14} aria-hidden /> Write one
        </Button>
        <FileButtons
          label="File of sentences"
          opens="Bring sentences from a file"
          takes="Take all kept sentences away as a file"
          onOpened={(text) => void bring(text)}
          file={saved && saved.length > 0 ? () => ({ name: 'sentences.json', text: sentencesToFile(saved) }) : null}
        />
      </div>
      <section aria-label="Kept sentences">
        <h3 className="border-b border-strong font-serif text-base">Kept</h3>
        {saved?.length === 0 && <p className="py-1 text-soft">None yet. Write one and keep it under a name.</p>}
        <ul>
          {(saved ?? []).map((sentence) => (
            <Item key={sentence.name} sentence={sentence} kept onOpen={onOpen} onDone={onDone} />
          ))}
        </ul>
      </section>
      <section aria-label="Ready sentences">
        <h3 className="border-b border-strong font-serif text-base">Ready</h3>
        <ul>
          {READY_SENTENCES.map((sentence) => (
            <Item key={sentence.name} sentence={sentence} kept={false} onOpen={onOpen} onDone={onDone} />
          ))}
        </ul>
      </section>
    </div>
  );
};

const Item = ({
  sentence,
  kept,
  onOpen,
  onDone,
}: {
  sentence: Sentence;
  kept: boolean;
  onOpen: (sentence: Sentence) => void;
  onDone: () => void;
}) => {
  const dispatch = useAppDispatch();
  const { name, key, lines } = sentence;
  return (
    <li className="flex items-center border-b border-rule">
      <button
        type="button"
        className="min-h-7 min-w-0 flex-1 py-1 text-left hover:bg-shade"
        title={`${lines.map(lineInWords).join(' ')} Opens it, to see what it would touch`}
        onClick={() => onOpen(sentence)}
      >
        {name}
        {key && (
          <kbd className="ml-1 border border-strong bg-shade px-1 font-sans text-soft">
            {LISTS.sentences.key.toUpperCase()}, {key.toUpperCase()}
          </kbd>
        )}
      </button>
      <Button
        look="quiet"
        className="!px-1.5"
        aria-label={`Do ${name}`}
        onClick={() => {
          void dispatch(doSentence(sentence));
          onDone();
        }}
      >
        Do
      </Button>
      {kept && (
        <Button
          look="quiet"
          className="!px-1"
          aria-label={`Forget ${name}`}
          title={`Forget ${name}; what it did stays`}
          onClick={() => dispatch(forgetSentence(name)).catch(tell)}
        >
          <X size={14} aria-hidden />
        </Button>
      )}
    </li>
  );
};
