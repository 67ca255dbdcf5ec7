/** Signing out, where somebody is signed in: here, or everywhere. Changes that wait in this browser are asked about first. */
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { api } from '../browser/api.js';
import type { KeptChanges } from '../browser/keptChanges.js';
import { usePageServices } from '../engine/pageServices.js';
import { Button } from '../ui/Button.js';
import { Dialog } from '../ui/Dialog.js';
import { counted } from '../ui/words.js';

/** What signing out means for what is kept in this browser. */
const whatGoes = (waiting: { readonly changes: number; readonly arrangements: number } | null): string =>
  waiting && waiting.changes > 0
    ? `${counted(waiting.changes, 'change')} in ${counted(waiting.arrangements, 'arrangement')} did not reach the server yet. Signing out discards them. To bring them back, stay and open the arrangement.`
    : 'Everything is saved. The access token will be asked for again.';

export const SignOut = () => {
  const { keptChanges } = usePageServices();
  const [signedIn, setSignedIn] = useState(false);
  const [asked, setAsked] = useState<Awaited<ReturnType<KeptChanges['counted']>> | null>(null);
  useEffect(() => {
    api.session().then(
      ({ name }) => setSignedIn(name !== null),
      () => undefined,
    );
  }, []);
  if (!signedIn) return null;
  const ask = async () => {
    const kept = await keptChanges();
    setAsked((await kept?.counted().catch(() => undefined)) ?? { changes: 0, arrangements: 0 });
  };
  const leave = async (everywhere: boolean) => {
    try {
      await api.signOut(everywhere);
      await (await keptChanges())?.forgetAll();
      window.location.assign('/sign-in');
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const loses = asked !== null && asked.changes > 0;
  return (
    <>
      <Button look="quiet" className="shrink-0 self-center whitespace-nowrap text-soft" onClick={() => void ask()}>
        Sign out…
      </Button>
      <Dialog
        open={asked !== null}
        onOpenChange={(open) => !open && setAsked(null)}
        title="Sign out"
        description={whatGoes(asked)}
      >
        <div className="flex justify-end gap-2">
          <Button look={loses ? 'main' : 'plain'} onClick={() => setAsked(null)}>
            Stay signed in
          </Button>
          <Button title="Also on every other device and browser" onClick={() => void leave(true)}>
            {loses ? 'Discard, sign out everywhere' : 'Sign out everywhere'}
          </Button>
          <Button look={loses ? 'plain' : 'main'} onClick={() => void leave(false)}>
            {loses ? 'Discard, sign out' : 'Sign out'}
          </Button>
        </div>
      </Dialog>
    </>
  );
};
