/** A server of our own to try: started, killed, asked. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

const root = process.cwd();

/** One server over one database. */
export class Tried {
  private child: ChildProcess | null = null;
  address = '';
  readonly file: string;

  /** `folder` where it shares one with another; else one of its own. */
  constructor(
    readonly folder = mkdtempSync(path.join(tmpdir(), 'crispfold-campaign-')),
    name = 'tried.sqlite',
  ) {
    this.file = path.join(folder, name);
  }

  /** Starts it, with files of at most `blocks` of 512 bytes; fails with what it said where it ends instead. */
  async start(environment: NodeJS.ProcessEnv = {}, blocks?: number): Promise<void> {
    const script = 'apps/server/dist/main.js';
    const [command, args]: [string, string[]] = blocks
      ? ['sh', ['-c', `ulimit -f ${blocks}; trap "" XFSZ; exec "${process.execPath}" ${script}`]]
      : [process.execPath, [script]];
    const child = spawn(command, args, {
      cwd: root,
      env: { ...process.env, CRISPFOLD_PORT: '0', CRISPFOLD_DATABASE: this.file, ...environment },
    });
    this.child = child;
    let said = '';
    this.address = await new Promise<string>((resolve, reject) => {
      child.stdout?.on('data', (data: Buffer) => {
        const found = /http:\S+/.exec(data.toString())?.[0];
        if (found) resolve(found);
      });
      child.stderr?.on('data', (data: Buffer) => {
        said += data.toString();
      });
      child.once('exit', (code) => reject(new Error(`the server ended with ${code}: ${said.slice(0, 500)}`)));
    });
  }

  /** True until it has ended. */
  get alive(): boolean {
    return this.child !== null && this.child.exitCode === null && this.child.signalCode === null;
  }

  /** Ends it; answers how long it took, in milliseconds. */
  async end(signal: NodeJS.Signals = 'SIGKILL'): Promise<number> {
    const { child } = this;
    if (!child || !this.alive) return 0;
    const began = Date.now();
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await gone;
    return Date.now() - began;
  }

  /** Sends it a signal that does not end it. */
  signal(signal: NodeJS.Signals): void {
    if (this.alive) this.child?.kill(signal);
  }

  /** Its memory, in megabytes; 0 where that cannot be told. */
  async megabytes(): Promise<number> {
    const { readFile } = await import('node:fs/promises');
    const text = await readFile(`/proc/${this.child?.pid}/status`, 'utf8').catch(() => '');
    return Math.round(Number(/VmRSS:\s+(\d+)/.exec(text)?.[1] ?? 0) / 1024);
  }

  async ask(at: string, init: RequestInit = {}): Promise<{ status: number; body: unknown }> {
    const response = await fetch(new URL(at, this.address), init);
    const text = await response.text();
    let body: unknown = text;
    try {
      body = text === '' ? null : JSON.parse(text);
    } catch {
      // Not JSON: kept as it came.
    }
    return { status: response.status, body };
  }
}

/** A JSON request. */
export const asJson = (
  body: unknown,
  method = 'POST',
  headers: { readonly [name: string]: string } = {},
): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json', ...headers },
  body: JSON.stringify(body),
});

/** A form with files. */
export const asForm = (...files: readonly (readonly [name: string, bytes: Uint8Array])[]): RequestInit => {
  const body = new FormData();
  for (const [name, bytes] of files) body.append('files', new File([bytes as Uint8Array<ArrayBuffer>], name));
  return { method: 'POST', body };
};

/** What a trial answers: its figures, and what went wrong. */
export interface Tally {
  readonly problems: readonly string[];
  readonly [figure: string]: unknown;
}

/** The same chance each time. */
export const chanceOf = (seed: number): (() => number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
};
