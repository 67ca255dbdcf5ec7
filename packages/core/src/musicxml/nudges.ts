/** Marks over the score that a person moved: MusicXML says by how much, the engraver does not read it, so pictures are moved. */
import type { PageMark } from '../model/overrides.js';

/** By how much a mark is moved, in tenths of the space between two staff lines: to the right, and up. */
interface Nudge {
  readonly x: number;
  readonly y: number;
}

/** A tenth of the space between two staff lines in the engraver's units, at any size of its pictures. */
export const ENGRAVED_TENTH = 18;

const GROUPS: { readonly [mark in PageMark]: string } = { tempo: 'tempo', rehearsal: 'reh', number: 'mNum' };
const SAID: { readonly [mark in PageMark]: RegExp } = {
  tempo: /<(?:metronome|words) relative-x="(-?\d+)" relative-y="(-?\d+)"/,
  rehearsal: /<rehearsal relative-x="(-?\d+)" relative-y="(-?\d+)"/,
  number: /<measure-numbering relative-x="(-?\d+)" relative-y="(-?\d+)"/,
};
const MARKS = Object.keys(GROUPS) as PageMark[];

/** The marks that our own MusicXML says are moved, by the id of their bar. */
const nudgesIn = (musicXml: string): ReadonlyMap<string, ReadonlyMap<PageMark, Nudge>> => {
  const nudges = new Map<string, Map<PageMark, Nudge>>();
  if (!musicXml.includes('relative-x=')) return nudges;
  for (const bar of musicXml.split('<measure ').slice(1)) {
    const id = /^[^>]*id="([^"]+)"/.exec(bar)?.[1];
    if (id === undefined) continue;
    const own = new Map<PageMark, Nudge>();
    for (const mark of MARKS) {
      const said = SAID[mark].exec(bar);
      if (said) own.set(mark, { x: Number(said[1]), y: Number(said[2]) });
    }
    if (own.size > 0) nudges.set(id, own);
  }
  return nudges;
};

/** Moves the marks of an engraved picture by what its MusicXML says. The same picture where it says nothing. */
export const withNudges = (svg: string, musicXml: string): string => {
  let moved = svg;
  for (const [id, marks] of nudgesIn(musicXml)) {
    const from = moved.indexOf(`<g id="${id}" class="measure"`);
    if (from < 0) continue;
    const next = moved.indexOf('class="measure"', from + id.length + 24);
    const end = next < 0 ? moved.length : next;
    let bar = moved.slice(from, end);
    for (const [mark, { x, y }] of marks)
      bar = bar.replace(
        new RegExp(`(<g [^>]*class="${GROUPS[mark]}[ "][^>]*)>`, 'g'),
        `$1 transform="translate(${x * ENGRAVED_TENTH} ${-y * ENGRAVED_TENTH})">`,
      );
    moved = moved.slice(0, from) + bar + moved.slice(end);
  }
  return moved;
};
