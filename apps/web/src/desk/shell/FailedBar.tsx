/** A bar across the Desk where the plan, the checks or the page could not be worked out. */
import { Button } from '../../ui/Button.js';
import { useWorkState } from '../session/useWritten.js';

export const FailedBar = () => {
  const work = useWorkState();
  if (work.kind !== 'failed') return null;
  return (
    <div role="alert" className="flex items-center gap-3 border-b border-fold bg-selected px-4 py-2">
      <p className="flex-1">
        <b>The page could not be worked out.</b> Your notes are safe, and you can go on editing. ({work.message})
      </p>
      <Button look="main" onClick={work.again}>
        Try again
      </Button>
    </div>
  );
};
