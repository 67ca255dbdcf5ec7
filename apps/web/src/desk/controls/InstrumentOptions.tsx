/** The instruments to choose from, in the list of a menu. */
import { INSTRUMENTS } from '@crispfold/core';

export const InstrumentOptions = () =>
  INSTRUMENTS.map(({ id, name }) => (
    <option key={id} value={id}>
      {name}
    </option>
  ));
