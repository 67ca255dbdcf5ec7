/** What the bars over the foot bring to the Desk. */
import type { Brings } from '../controls/brings.js';
import { OfferBar } from '../controls/Offers.js';
import { DoubtBar } from './DoubtBar.js';
import { EntryBar } from './EntryBar.js';
import { ForwardBar } from './ForwardBar.js';
import { GivingBar } from './GivingBar.js';
import { OnlyTheseBar } from './OnlyTheseBar.js';
import { PlayInBar } from './PlayInBar.js';

export const BARS: Brings = {
  bars: [
    () => <EntryBar key="entry" />,
    () => <PlayInBar key="playIn" />,
    () => <GivingBar key="giving" />,
    () => <OnlyTheseBar key="onlyThese" />,
    () => <ForwardBar key="forward" />,
    () => <OfferBar key="offer" />,
    (context) => <DoubtBar key="doubt" context={context} />,
  ],
};
