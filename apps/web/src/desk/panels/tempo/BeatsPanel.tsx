/** Tempo from the take: beats are found, tapped or taken from a recording, put right, seen over the roll, and accepted. */

import {
  barsFrom,
  barsShifted,
  beatMoved,
  beatOf,
  beatsOfTaps,
  doubledBeats,
  type FoundBeats,
  followBeats,
  halvedBeats,
  nearestBeat,
  tempoSpan,
} from '@crispfold/core';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { clock, counted } from '../../../ui/words.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { commit } from '../../session/saving.js';
import { lookForAttacks } from '../../session/sound/recordingSound.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectTempoMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement, selectFrontPart } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';
import { steppingActions } from '../../state/steppingSlice.js';

/** What is listened to. */
type Heard = 'all' | 'front' | 'recording' | 'taps';

/** A nudge of one beat, in seconds. */
const NUDGE = 0.01;
/** How eagerly attacks of a recording are found, where nobody has looked for them yet. */
const SENSITIVITY = 0.5;

/** Said where no beat can be told. */
const TOO_LITTLE = 'Too little begins here to tell the beat. Tap it, or listen to other parts.';

/** "96 beats, 84 to 112 a minute; bar 1 begins at 0:00". */
const inWords = (found: FoundBeats): string => {
  const { times, firstInBar, perBar } = found;
  const { slow, middle, fast } = tempoSpan(found, 0.05);
  const bar = times[(perBar - firstInBar) % perBar] ?? times[0] ?? 0;
  const tempo = fast - slow < 2 ? `${middle} a minute` : `${slow} to ${fast} a minute`;
  return `${counted(times.length, 'beat')}, ${tempo}. A bar of ${perBar} begins at ${clock(Math.max(0, bar))}.`;
};

const useTaps = (on: boolean, onTaps: (taps: readonly number[]) => void) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const [taps, setTaps] = useState<readonly number[]>([]);
  const tap = (timeStamp: number) => {
    const moment = player.momentOf(timeStamp);
    if (!moment) {
      dispatch(said('Play the take first: taps are beats of what is heard.'));
      toast('Play the take first: taps are beats of what is heard.');
      return;
    }
    const next = [...taps, moment.music];
    setTaps(next);
    onTaps(next);
  };
  useEffect(() => {
    if (!on) setTaps([]);
  }, [on]);
  return { count: taps.length, tap };
};

/** The search for beats: its share of the take that was listened to, and what is tried. */
const useBeatSearch = (heard: Heard) => {
  const { engine } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const known = useAppSelector(({ recording }) => recording.attacks);
  /** Null while nobody listens. */
  const [listened, setListened] = useState<number | null>(null);
  /** The search that is wanted; a newer one, or none, ends those before it. */
  const search = useRef(0);
  useEffect(
    () => () => {
      search.current += 1;
      dispatch(steppingActions.beatsTried(null));
    },
    [dispatch],
  );
  const show = (beats: FoundBeats | null) => {
    dispatch(steppingActions.beatsTried(beats));
    dispatch(said(beats ? inWords(beats) : TOO_LITTLE));
    if (!beats) toast(TOO_LITTLE);
  };
  const attacks = async (): Promise<readonly number[] | null> => {
    const { recording } = arrangement;
    if (heard !== 'recording' || !recording) return null;
    const found = known ?? (await dispatch(lookForAttacks(SENSITIVITY)));
    return found.map(({ time }) => time + recording.offset);
  };
  const find = async () => {
    search.current += 1;
    const own = search.current;
    setListened(0);
    try {
      const partIds = heard === 'front' && front ? [front.id] : null;
      const asked = { partIds, attacks: await attacks() };
      while (own === search.current) {
        const { done, found } = await engine.ask('beats', asked);
        if (own !== search.current) return;
        if (done === 1) {
          show(found);
          break;
        }
        setListened(done);
      }
    } catch {
      // Another arrangement was opened, or this one changed: then it is asked for again.
    }
    if (own === search.current) setListened(null);
  };
  const giveUp = () => {
    search.current += 1;
    setListened(null);
  };
  return { listened, find, giveUp, show };
};

export const BeatsPanel = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const front = useAppSelector(selectFrontPart);
  const tried = useAppSelector(({ stepping }) => stepping.beats);
  const sound = useAppSelector(({ recording }) => recording.sound);
  const [heard, setHeard] = useState<Heard>('all');
  const { listened, find, giveUp, show } = useBeatSearch(heard);
  const { count, tap } = useTaps(heard === 'taps', (taps) => {
    const beats = beatsOfTaps(taps, tried ?? beatOf(arrangement.meters[0]));
    if (beats) dispatch(steppingActions.beatsTried(beats));
  });
  const close = () => dispatch(layoutActions.toolShown(null));
  return (
    <SettingsPanel
      title="Tempo from the take"
      explanation="Finds the beats of what was played. Accepted, each stands on a beat of the page; every note sounds when it did."
      onClose={close}
    >
      <div className="flex flex-col gap-3 text-sm">
        <label className="flex items-center gap-2">
          Listen to
          <select
            className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
            value={heard}
            onChange={({ target }) => setHeard(target.value as Heard)}
          >
            <option value="all">all parts</option>
            <option value="front">{front?.name ?? 'the front part'} alone</option>
            {arrangement.recording && sound.kind === 'ready' && <option value="recording">the recording</option>}
            <option value="taps">my taps</option>
          </select>
        </label>
        {heard === 'taps' ? (
          <Button
            look="main"
            title="While the take plays, tap each beat; the first tap begins a bar"
            onClick={({ timeStamp }) => tap(timeStamp)}
          >
            Tap each beat · {count}
          </Button>
        ) : (
          <Button look="main" disabled={listened !== null} onClick={() => void find()}>
            {listened !== null ? 'Listening…' : 'Find the beats'}
          </Button>
        )}
        {listened !== null && (
          <span className="flex items-center gap-2">
            <progress
              aria-label="Listening for beats"
              className="h-2 min-w-0 flex-1 accent-[var(--fold)]"
              value={listened}
            />
            <Button onClick={giveUp}>Cancel</Button>
          </span>
        )}
        {tried && <TriedBeats tried={tried} onChanged={show} onClose={close} />}
      </div>
    </SettingsPanel>
  );
};

/** Beats that were found or tapped: put right, taken, or left. */
const TriedBeats = ({
  tried,
  onChanged,
  onClose,
}: {
  tried: FoundBeats;
  onChanged: (beats: FoundBeats) => void;
  onClose: () => void;
}) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const tempoMap = useAppSelector(selectTempoMap);
  const change = (make: (beats: FoundBeats) => FoundBeats) => onChanged(make(tried));
  const atPlayhead = () => tempoMap.secondsAt(player.state.get().tick);
  const nudge = (by: number) =>
    change((beats) => {
      const index = nearestBeat(beats, atPlayhead());
      return beatMoved(beats, index, (beats.times[index] ?? 0) + by);
    });
  const accept = () => {
    dispatch(commit(followBeats(arrangement, tried)));
    dispatch(said('The tempo is that of the take. Every note sounds when it did.'));
    onClose();
  };
  return (
    <>
      <p role="status">{inWords(tried)}</p>
      <div className="flex flex-wrap gap-1" role="group" aria-label="All beats">
        <Button title="For a pulse that was counted twice as fast" onClick={() => change(halvedBeats)}>
          Half as many
        </Button>
        <Button title="For a pulse that was counted half as fast" onClick={() => change(doubledBeats)}>
          Twice as many
        </Button>
        <Button onClick={() => change((beats) => barsShifted(beats, -1))}>Bars a beat earlier</Button>
        <Button onClick={() => change((beats) => barsShifted(beats, 1))}>Bars a beat later</Button>
        <Button onClick={() => change((beats) => barsFrom(beats, atPlayhead()))}>A bar from the playhead</Button>
      </div>
      <div className="flex flex-wrap items-center gap-1" role="group" aria-label="The beat at the playhead">
        <span className="w-full text-soft">The beat nearest to the playhead:</span>
        <Button onClick={() => nudge(-NUDGE)}>10 ms earlier</Button>
        <Button onClick={() => nudge(NUDGE)}>10 ms later</Button>
        <Button onClick={() => change((beats) => beatMoved(beats, nearestBeat(beats, atPlayhead()), atPlayhead()))}>
          To the playhead
        </Button>
      </div>
      <p className="text-soft">
        The roll shows the beats as dots, and where bars begin as dashes. Drag a beat by its handle under the ruler;
        with the keyboard, comma and period go from beat to beat, arrows move one.
      </p>
      <span className="flex gap-1">
        <Button look="main" onClick={accept}>
          Take this tempo
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </span>
    </>
  );
};
