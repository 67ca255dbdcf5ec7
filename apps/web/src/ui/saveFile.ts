/** Hands a file to the browser's downloads. */

/** A name that every file system takes. */
export const fileName = (title: string): string => title.replace(/[\\/:*?"<>|]+/g, ' ').trim() || 'arrangement';

/** Has the browser download what the server has at an address, under the server's name for it. */
export const download = (address: string): void => {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
};

/** Saves `content` under `name`. */
export const saveFile = (name: string, content: Uint8Array | string | Blob, mediaType: string): void => {
  const address = URL.createObjectURL(
    content instanceof Blob ? content : new Blob([content as Uint8Array<ArrayBuffer> | string], { type: mediaType }),
  );
  const link = document.createElement('a');
  link.href = address;
  link.download = fileName(name);
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
};
