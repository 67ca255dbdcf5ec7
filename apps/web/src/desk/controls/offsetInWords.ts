/** Where a recording begins, in words. */
export const offsetInWords = (offset: number): string => {
  const seconds = Math.abs(offset).toFixed(3);
  if (Math.abs(offset) < 0.0005) return 'begins with the piece';
  return offset > 0 ? `begins ${seconds} s after the piece` : `begins ${seconds} s before the piece`;
};
