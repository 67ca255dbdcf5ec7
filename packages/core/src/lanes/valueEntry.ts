/** Values as a person types them: a number, or what is done with the one that is there. */

/** What was typed for a value: a number, or what is done with the one that is there; null where it is neither. */
export const readValueEntry = (text: string): ((value: number) => number) | null => {
  const match = /^\s*([+\-−*×/]?)\s*(\d+(?:[.,]\d+)?)\s*$/.exec(text);
  if (!match) return null;
  const amount = Number((match[2] as string).replace(',', '.'));
  switch (match[1]) {
    case '+':
      return (value) => value + amount;
    case '-':
    case '−':
      return (value) => value - amount;
    case '*':
    case '×':
      return (value) => value * amount;
    case '/':
      return amount === 0 ? null : (value) => value / amount;
    default:
      return () => amount;
  }
};
