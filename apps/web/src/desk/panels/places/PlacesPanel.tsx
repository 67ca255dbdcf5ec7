/** All that stands on the ruler, from the start: markers, meters, keys and tempi, to go to, change, move and take away. */

import {
  changePoints,
  drawInLane,
  type Edit,
  keyInWords,
  mapEdit,
  moveMarker,
  placeInNumbers,
  placeTyped,
  putMarker,
  quartersPerMinute,
  type Result,
  removeKey,
  removeMarker,
  removeMeter,
  success,
  tempoOfTaps,
} from '@crispfold/core';
import { X } from 'lucide-react';
import { type FormEvent, type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { NumberField } from '../../../ui/NumberField.js';
import { Typed } from '../../../ui/Typed.js';
import { useValue } from '../../../ui/valueStore.js';
import type { CommandContext } from '../../actions/commands/command.js';
import { commitLane } from '../../actions/commitLane.js';
import { goToPlace } from '../../actions/looking.js';
import { KeepTimes } from '../../controls/KeepTimes.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { selectMeterMap } from '../../state/maps.js';
import { useAppSelector } from '../../state/root.js';
import { selectArrangement } from '../../state/selectors.js';
import { said } from '../../state/speechSlice.js';

/** A line of the list. */
interface Line {
  readonly tick: number;
  readonly kind: 'marker' | 'meter' | 'key' | 'tempo';
  readonly row: ReactNode;
}

const PLACE = 'w-16 tabular-nums';

const Away = ({ what, onClick }: { what: string; onClick: () => void }) => (
  <Button look="quiet" className="!px-1" aria-label={`Take away: ${what}`} title="Take it away" onClick={onClick}>
    <X size={14} aria-hidden />
  </Button>
);

/** Places in words and back, and how a change is carried out. */
const usePlaces = () => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const meterMap = useAppSelector(selectMeterMap);
  const { ppq } = arrangement;
  const sayProblem = (message: string) => {
    toast.error(message);
    dispatch(said(message));
  };
  return {
    arrangement,
    barOf: (tick: number) => meterMap.barAt(tick).number,
    inWords: (tick: number) => placeInNumbers(meterMap, ppq, tick).replace(/\.0$/, ''),
    sayProblem,
    carryOut: (made: Result<Edit>) => {
      if (!made.ok) {
        sayProblem(made.problem.message);
        return;
      }
      // A change of tempo moves notes or bars, as was chosen.
      const carried = dispatch(commitLane(made.value));
      dispatch(said(carried?.label ?? ''));
    },
    /** The tick of a typed place; null, and said why, where it is none. */
    tickOf: (typed: string): number | null => {
      const to = placeTyped(meterMap, ppq, typed);
      if (to.ok) return to.value;
      sayProblem(to.problem.message);
      return null;
    },
  };
};

type Places = ReturnType<typeof usePlaces>;

const markerLines = ({ arrangement, inWords, tickOf, carryOut }: Places): Line[] =>
  arrangement.markers.map((marker) => ({
    tick: marker.tick,
    kind: 'marker',
    row: (
      <>
        <Typed
          label={`Place of marker ${marker.text}`}
          className={PLACE}
          value={inWords(marker.tick)}
          onTaken={(typed) => {
            const tick = tickOf(typed);
            if (tick !== null) carryOut(success(moveMarker(arrangement, marker, tick)));
          }}
        />
        <Typed
          label={`Marker at ${inWords(marker.tick)}`}
          className="flex-1 font-semibold"
          value={marker.text}
          onTaken={(words) => carryOut(putMarker(arrangement, marker.tick, words))}
        />
        <Away what={`marker ${marker.text}`} onClick={() => carryOut(success(removeMarker(arrangement, marker)))} />
      </>
    ),
  }));

const meterLines = ({ arrangement, inWords, barOf, carryOut }: Places): Line[] =>
  arrangement.meters.map((meter, index) => ({
    tick: meter.tick,
    kind: 'meter',
    row: (
      <>
        <span className={PLACE}>{inWords(meter.tick)}</span>
        <Typed
          label={`Meter from bar ${barOf(meter.tick)}`}
          className="flex-1"
          value={`${meter.groups?.join('+') ?? meter.numerator}/${meter.denominator}`}
          onTaken={(text) => carryOut(mapEdit(arrangement, barOf(meter.tick), { wish: 'meter', text }, []))}
        />
        {index > 0 && (
          <Away what={`meter at bar ${barOf(meter.tick)}`} onClick={() => carryOut(removeMeter(arrangement, meter))} />
        )}
      </>
    ),
  }));

const keyLines = ({ arrangement, inWords, barOf, carryOut }: Places): Line[] =>
  arrangement.keys.map((key) => ({
    tick: key.tick,
    kind: 'key',
    row: (
      <>
        <span className={PLACE}>{inWords(key.tick)}</span>
        <span className="flex-1">{keyInWords(key)}</span>
        <Away what={`key at bar ${barOf(key.tick)}`} onClick={() => carryOut(success(removeKey(arrangement, key)))} />
      </>
    ),
  }));

const tempoLines = ({ arrangement, inWords, tickOf, carryOut, sayProblem }: Places): Line[] => {
  const change = (id: number, to: { tick?: number; value?: number } | null) => {
    const edit = changePoints(
      arrangement,
      null,
      { kind: 'tempo' },
      new Set([id]),
      (point) => to && { ...point, ...to },
      'Tempo',
    );
    if (edit) carryOut(success(edit));
  };
  return arrangement.tempos.map(({ tick, microsecondsPerQuarter, ramp }, id) => ({
    tick,
    kind: 'tempo',
    row: (
      <>
        <Typed
          label={`Place of the tempo at ${inWords(tick)}`}
          className={PLACE}
          value={inWords(tick)}
          onTaken={(typed) => {
            const to = tickOf(typed);
            if (to !== null) change(id, { tick: to });
          }}
        />
        <span>♩ =</span>
        <Typed
          label={`Tempo at ${inWords(tick)}, quarters a minute`}
          className={PLACE}
          value={String(Math.round(quartersPerMinute(microsecondsPerQuarter) * 100) / 100)}
          onTaken={(typed) => {
            const value = Number(typed.replace(',', '.'));
            if (value >= 5 && value <= 400) change(id, { value });
            else sayProblem('A tempo is a number of quarters a minute, from 5 to 400.');
          }}
        />
        <span className="flex-1 text-soft">{ramp ? 'moves' : ''}</span>
        {id > 0 && <Away what={`tempo at ${inWords(tick)}`} onClick={() => change(id, null)} />}
      </>
    ),
  }));
};

/** A tempo for the bar under the playhead: typed, or tapped on the button (or with Space on it). */
const TempoHere = ({ places }: { places: Places }) => {
  const { player } = useDesk();
  const { arrangement, barOf, carryOut } = places;
  const meterMap = useAppSelector(selectMeterMap);
  const { tick } = useValue(player.state);
  const [taps, setTaps] = useState<readonly number[]>([]);
  const [tempo, setTempo] = useState(120);
  const tap = () => {
    const next = [...taps.slice(-15), performance.now() / 1000];
    setTaps(next);
    const found = tempoOfTaps(next);
    if (found !== null) setTempo(Math.round(found * 10) / 10);
  };
  return (
    <form
      className="flex flex-wrap items-center gap-1.5 pb-3 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        const at = meterMap.barAt(Math.max(0, tick)).start;
        const edit = drawInLane(arrangement, null, { kind: 'tempo' }, [{ tick: at, value: tempo, ramp: null }]);
        if (edit) carryOut(success(edit));
      }}
    >
      ♩ =
      <NumberField
        label="A tempo at the bar of the playhead, quarters a minute"
        className="w-16"
        min={5}
        max={400}
        value={tempo}
        onTaken={setTempo}
      />
      <Button title="Tap the beat here three times or more" onClick={tap}>
        Tap
      </Button>
      <Button type="submit">Set at bar {barOf(tick)}</Button>
    </form>
  );
};

export const PlacesPanel = ({ context }: { context: CommandContext }) => {
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const places = usePlaces();
  const { arrangement, inWords, barOf, carryOut } = places;
  const [text, setText] = useState('');
  const lines = [...markerLines(places), ...meterLines(places), ...keyLines(places), ...tempoLines(places)].sort(
    (a, b) => a.tick - b.tick,
  );
  const add = (event: FormEvent) => {
    event.preventDefault();
    carryOut(putMarker(arrangement, player.state.get().tick, text));
    setText('');
  };
  return (
    <SettingsPanel
      title="Markers, meter, key, tempo"
      explanation="All that stands on the ruler. A change is of all parts; what lies after a meter is barred anew. Keys and meters are added in the Page panel, from the bar in hand."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <form className="flex gap-1 pb-3" onSubmit={add}>
        <input
          aria-label="A marker at the playhead"
          placeholder="marker at the playhead"
          className="min-h-7 min-w-0 flex-1 border border-strong bg-sheet px-1"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit">Add</Button>
      </form>
      <TempoHere places={places} />
      <div className="pb-3 text-sm">
        <KeepTimes />
      </div>
      <ul className="flex flex-col text-sm">
        {lines.map(({ tick, kind, row }) => (
          <li key={`${kind} ${tick}`} className="flex items-center gap-1.5 border-b border-rule py-1">
            <Button
              look="quiet"
              className="!px-1"
              aria-label={`Go to ${inWords(tick)}: ${kind}`}
              title="Go there"
              onClick={() => goToPlace(context, tick, `Bar ${barOf(tick)}`)}
            >
              →
            </Button>
            {row}
          </li>
        ))}
      </ul>
    </SettingsPanel>
  );
};
