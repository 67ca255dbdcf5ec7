/** How far the server has read the files of a request: looked at now and then while it does. */
import { useEffect, useState } from 'react';
import { api } from '../browser/api.js';

/** How often it is asked, in milliseconds. */
const ASK_EACH = 700;

/** What is said while files are read; `bytesDone` is null until the server has told. */
export const readingInWords = (bytesDone: number | null): string =>
  bytesDone === null || bytesDone < 1024 * 1024
    ? 'Reading the files…'
    : `Reading the files… ${Math.round(bytesDone / 1024 / 1024)} MB read`;

/** Bytes that were worked through, for the request of this name; null while nothing is known. */
export const useReading = (requestId: string | null): number | null => {
  const [bytesDone, setBytesDone] = useState<number | null>(null);
  useEffect(() => {
    if (requestId === null) return;
    const timer = setInterval(() => {
      api.reading(requestId).then(
        (reading) => setBytesDone(reading.bytesDone),
        () => undefined,
      );
    }, ASK_EACH);
    return () => {
      clearInterval(timer);
      setBytesDone(null);
    };
  }, [requestId]);
  return bytesDone;
};
