/** A recording added, put aside, or tried again. */

import { keptText, LONGEST_RECORDING_NAME, withRecording } from '@crispfold/core';
import { toast } from 'sonner';
import { api } from '../../browser/api.js';
import type { AppDispatch, Desk } from '../session/desk.js';
import { commit } from '../session/saving.js';
import { haveSound, soundOf } from '../session/sound/recordingSound.js';
import { layoutActions } from '../state/layoutSlice.js';
import { lookingActions } from '../state/lookingSlice.js';
import type { RootState } from '../state/root.js';
import { said } from '../state/speechSlice.js';

/** Where a new one is laid: at the start, as loud as it is. */
const LEVEL = 0.7;

/** Lays a recording beside the notes, in the place of another; undo brings that back. */
export const addRecording =
  (file: File) =>
  async (dispatch: AppDispatch, getState: () => RootState, { page }: Desk) => {
    const {
      piece: { id: arrangementId },
    } = getState();
    if (!arrangementId) return;
    const telling = toast.loading(`Reading ${file.name}…`, { duration: Number.POSITIVE_INFINITY });
    try {
      const sound = await soundOf(page.engines, file, file.name);
      const { id } = await api.addRecording(arrangementId, file);
      const {
        piece: { arrangement, id: now },
      } = getState();
      if (!arrangement || now !== arrangementId) return;
      dispatch(haveSound(id, sound));
      const recording = {
        id,
        name: keptText(file.name, LONGEST_RECORDING_NAME),
        seconds: sound.buffer.duration,
        offset: 0,
        level: LEVEL,
      };
      dispatch(commit(withRecording(arrangement, `Recording: ${recording.name}`, recording)));
      dispatch(lookingActions.seen({ recording: true }));
      dispatch(layoutActions.toolShown('recording'));
      dispatch(said(`${recording.name} lies under the ruler.`));
    } catch (error) {
      toast.error((error as Error).message, { duration: 9000 });
    } finally {
      toast.dismiss(telling);
    }
  };
