/** The thread that makes pages: one request, one answer, and it is done. */
import { parentPort } from 'node:worker_threads';
import { type PressAsked, pressedAnswer } from './press.js';

parentPort?.once('message', (asked: PressAsked) => {
  void pressedAnswer(asked).then((answer) => {
    parentPort?.postMessage(answer, answer.ok ? [answer.bytes.buffer as ArrayBuffer] : []);
  });
});
