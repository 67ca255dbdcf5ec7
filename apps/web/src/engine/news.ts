/** What goes between the Desk and its worker: only what the other side does not have, and the newest answer for each part. */
import type { Part, PartId } from '@crispfold/core';
import { packPlayed, unpackNotes } from './packedNotes.js';
import type { PackedLayer, PartNews, WrittenLayer } from './protocol.js';

/** The Written layers by part, each as of the newest answer that covers it. */
export type Layers = ReadonlyMap<PartId, WrittenLayer>;

/** A part without what the worker already has of it. */
export const newsOf = (part: Part, before: Part | undefined): PartNews => {
  const { notes, events, overrides, ...rest } = part;
  const kept = before !== undefined && before.overrides === overrides;
  return {
    ...rest,
    ...(kept ? { overridesKept: true } : overrides ? { overrides } : {}),
    ...(before?.notes === notes ? {} : { packed: packPlayed(notes) }),
    ...(before?.events === events ? {} : { events }),
  };
};

/** The layers with newer ones in their place; parts that went are left out. */
export const withLayers = (before: Layers, fresh: readonly PackedLayer[], order: readonly PartId[]): Layers => {
  const layers = new Map([...before].filter(([id]) => order.includes(id)));
  for (const { packed, ...layer } of fresh) {
    const known = layers.get(layer.partId);
    if (known && known.covers > layer.covers) continue;
    layers.set(layer.partId, { ...layer, notes: unpackNotes(packed) });
  }
  return layers;
};
