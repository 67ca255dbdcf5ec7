/** The feel that Follow would take: its chart, and how it is kept under a name or forgotten. */

import { feelNameSchema } from '@crispfold/contract';
import { type KeptFeel, partById, partFeel } from '@crispfold/core';
import { lazy, Suspense, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button.js';
import { NameForm } from '../../ui/NameForm.js';
import { type Thunk, useAppDispatch } from '../session/desk.js';
import { forgetFeel, keepFeel } from '../session/keptFeels.js';
import { useAppSelector } from '../state/root.js';
import { selectArrangement } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';

/** The chart and its library come when a feel is seen. */
const FeelChart = lazy(() => import('./FeelChart.js'));

/** Does what the server is asked for, and says how that went. */
const tell =
  (act: Thunk<Promise<void>>, done: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    try {
      await dispatch(act);
      dispatch(said(done));
      toast.success(done);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };

export const FeelShown = ({ part, kept }: { part: number; kept: KeptFeel | null }) => {
  const dispatch = useAppDispatch();
  const arrangement = useAppSelector(selectArrangement);
  const known = useAppSelector(({ kept }) => kept.feels) ?? [];
  const [naming, setNaming] = useState(false);
  const feel = useMemo(() => kept ?? partFeel(arrangement, part), [arrangement, part, kept]);
  if (!kept && part === 0) return null;
  if (!feel) {
    const name = partById(arrangement, part)?.name ?? 'This part';
    return <p className="text-sm text-soft">{name} has too few notes to learn a feel from.</p>;
  }
  const keep = (name: string) => {
    setNaming(false);
    void dispatch(tell(keepFeel({ ...feel, name }), `Kept the feel “${name}”`));
  };
  return (
    <div className="flex flex-col gap-2">
      <Suspense fallback={<p className="text-sm text-soft">Drawing the chart…</p>}>
        <FeelChart feel={feel} />
      </Suspense>
      {naming ? (
        <NameForm
          label="Name of the feel"
          schema={feelNameSchema}
          name={feel.name}
          onSave={keep}
          onCancel={() => setNaming(false)}
        />
      ) : (
        <span className="flex gap-1">
          {!kept && <Button onClick={() => setNaming(true)}>Keep this feel…</Button>}
          {kept && known.some(({ name }) => name === kept.name) && (
            <Button
              title="Plans that have it keep it"
              onClick={() => void dispatch(tell(forgetFeel(kept.name), `Forgot the feel “${kept.name}”`))}
            >
              Forget “{kept.name}”
            </Button>
          )}
        </span>
      )}
    </div>
  );
};
