/** How far the files of requests have been read, while they are: asked for by the name of their request. */
import type { WorkDone } from '../threads.js';

/** The readings that are under way. */
export class Readings {
  private readonly underWay = new Map<string, WorkDone>();

  /** Does work of a request, and knows how far it is until it ends. */
  async during<Value>(
    requestId: string | undefined,
    work: (tell: (done: WorkDone) => void) => Promise<Value>,
  ): Promise<Value> {
    if (requestId === undefined) return work(() => undefined);
    this.underWay.set(requestId, { bytesDone: 0 });
    try {
      return await work((done) => void this.underWay.set(requestId, done));
    } finally {
      this.underWay.delete(requestId);
    }
  }

  /** How far one is; undefined where it is not under way. */
  of(requestId: string): WorkDone | undefined {
    return this.underWay.get(requestId);
  }
}
