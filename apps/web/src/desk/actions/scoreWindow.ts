/** The score in a second window of the browser, which stays linked with the Desk. */
import { toast } from 'sonner';

/** Opens it, or brings it to the front where it is open. */
export const openScoreWindow = (id: string | null): void => {
  if (!id) return;
  const opened = window.open(`/desk/${id}/score`, `crispfold-score-${id}`, 'popup,width=1000,height=1000');
  if (opened) opened.focus();
  else toast.error('The browser did not open a window. Allow windows for this address, then try again.');
};
