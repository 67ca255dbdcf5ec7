import { beginIds } from './kit.js';

// Files of these tests share what they have read, and nothing else.
beginIds();
