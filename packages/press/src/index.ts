/** Whole pages, away from a screen: engraved with Verovio, and made into PDF files. */
export { type PressedFile, type PressOptions, pressFiles } from './pressFiles.js';
