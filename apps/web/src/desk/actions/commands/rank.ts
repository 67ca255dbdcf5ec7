/** Words anywhere are found; a name that begins with what was typed comes first, then one with a word that does. */
export const rankOf = (name: string, typed: string): number => {
  const [own, sought] = [name.toLowerCase(), typed.trim().toLowerCase()];
  if (own.startsWith(sought)) return 1;
  if (` ${own}`.includes(` ${sought}`)) return 0.8;
  if (own.includes(sought)) return 0.6;
  const words = sought.split(/\s+/);
  return words.every((word) => own.includes(word)) ? 0.4 : 0;
};
