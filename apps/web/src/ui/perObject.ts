/** What is worked out from an object that never changes: once for each, kept for as long as the object is. */

/**
 * Remembers what `make` answers, by the object it was asked about, for the last of the other things that it was asked with:
 * those are compared by identity.
 */
export const perObject = <Key extends object, Others extends readonly unknown[], Value>(
  make: (key: Key, ...others: Others) => Value,
): ((key: Key, ...others: Others) => Value) => {
  const known = new WeakMap<Key, { readonly others: Others; readonly value: Value }>();
  return (key, ...others) => {
    const before = known.get(key);
    if (before?.others.every((other, at) => Object.is(other, others[at]))) return before.value;
    const value = make(key, ...others);
    known.set(key, { others, value });
    return value;
  };
};
