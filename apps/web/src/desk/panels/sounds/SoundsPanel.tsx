/** What parts sound by: the built-in sounds, or a SoundFont of the person's own, which the server keeps. */

import { LARGEST_SOUNDFONT } from '@crispfold/core';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../../ui/Button.js';
import { ChooseFile } from '../../../ui/ChooseFile.js';
import { SettingsPanel } from '../../controls/SettingsPanel.js';
import { useKeyOf } from '../../controls/useKeyOf.js';
import { useAppDispatch, useDesk } from '../../session/desk.js';
import { addSoundFont, askForSoundFont, removeSoundFont, wantSoundFont } from '../../session/sound/soundFont.js';
import { layoutActions } from '../../state/layoutSlice.js';
import { useAppSelector } from '../../state/root.js';
import { said } from '../../state/speechSlice.js';

const MEGABYTE = 1024 * 1024;

export const SoundsPanel = () => {
  const keyOf = useKeyOf();
  const { player } = useDesk();
  const dispatch = useAppDispatch();
  const { item, wanted } = useAppSelector((state) => state.soundFont);
  const [adding, setAdding] = useState(false);
  useEffect(() => void dispatch(askForSoundFont()), [dispatch]);
  const add = async (chosen: File) => {
    if (chosen.size > LARGEST_SOUNDFONT) {
      toast.error(`${chosen.name} is larger than ${LARGEST_SOUNDFONT / MEGABYTE} MB. Nothing was changed.`);
      return;
    }
    setAdding(true);
    player.stop();
    try {
      await dispatch(addSoundFont(chosen));
      dispatch(said(`Parts now sound by ${chosen.name}.`));
    } catch (error) {
      toast.error((error as Error).message, { duration: 9000 });
    } finally {
      setAdding(false);
    }
  };
  const want = (by: boolean) => {
    player.stop();
    dispatch(wantSoundFont(by));
  };
  return (
    <SettingsPanel
      title="Sounds"
      explanation="What parts sound by when they are played here. Files that are taken away are the same with any."
      onClose={() => dispatch(layoutActions.toolShown(null))}
    >
      <div className="flex flex-col gap-3 text-sm">
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="sounds"
            className="accent-[var(--fold)]"
            checked={!wanted || !item}
            onChange={() => want(false)}
          />
          Built-in sounds, by family
        </label>
        <label className="flex items-center gap-2 [overflow-wrap:anywhere]">
          <input
            type="radio"
            name="sounds"
            className="accent-[var(--fold)]"
            disabled={!item}
            checked={wanted && Boolean(item)}
            onChange={() => want(true)}
          />
          {item
            ? `${item.name} (${Math.max(1, Math.round(item.bytes / MEGABYTE))} MB)`
            : 'A SoundFont: none is there yet'}
        </label>
        <p className="text-soft">
          With a SoundFont (.sf2 or .sf3) parts sound by their program, percussion by its sounds, and controllers and
          bends are heard. The built-in sounds know volume and expression alone.
        </p>
        <div className="flex flex-wrap gap-2">
          <ChooseFile
            label="A SoundFont"
            accept=".sf2,.sf3"
            main={!item}
            disabled={adding}
            words={adding ? 'Bringing it in…' : item ? 'Another…' : 'Choose a SoundFont…'}
            onChosen={(file) => void add(file)}
          />
          {item && (
            <Button
              look="quiet"
              onClick={() => {
                player.stop();
                void dispatch(removeSoundFont()).catch((error: Error) => toast.error(error.message));
              }}
            >
              Delete it
            </Button>
          )}
        </div>
        <Button className="self-start" title="Where a sound hangs" hint={keyOf('panic')} onClick={() => player.panic()}>
          Silence everything
        </Button>
      </div>
    </SettingsPanel>
  );
};
