/** Guessing at the door, many at once, while the right one comes in; and sessions through kills. */
import { asJson, type Tally, Tried } from './server.js';

const TOKEN = 'a token, of some length, with ümlauts';

export const sessionsTried = async (more: () => boolean): Promise<Tally> => {
  const problems: string[] = [];
  const counts = { rounds: 0, kills: 0, wrongAtOnce: 400, rightWaited: 0, guessesLookedAt: 0, guesses: 0 };
  const server = new Tried();
  const environment = { CRISPFOLD_TOKEN: TOKEN };
  await server.start(environment);
  const statusOf = async (headers: { readonly [name: string]: string }, init: RequestInit = {}): Promise<number> => {
    const response = await fetch(new URL('/api/arrangements', server.address), { ...init, headers });
    await response.arrayBuffer();
    return response.status;
  };
  const bearer = (token: string) => ({ Authorization: `Bearer ${Buffer.from(token, 'utf8').toString('latin1')}` });
  const signIn = async (): Promise<string> => {
    const response = await fetch(new URL('/sign-in', server.address), {
      method: 'POST',
      redirect: 'manual',
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ token: TOKEN }).toString(),
    });
    return (response.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  };
  let cookies = [await signIn(), await signIn()];
  do {
    // Signed in is signed in, also after the server was killed.
    await server.end('SIGKILL');
    await server.start(environment);
    counts.kills += 1;
    for (const cookie of cookies)
      if ((await statusOf({ Cookie: cookie })) !== 200) problems.push('a session was lost in a kill');
    const wrong = Array.from({ length: counts.wrongAtOnce }, (_, at) =>
      statusOf(at % 2 === 0 ? bearer(`guess ${at}`) : { Cookie: `crispfold=guess${at}` }),
    );
    await new Promise((resolve) => setTimeout(resolve, 50));
    const began = performance.now();
    if ((await statusOf(bearer(TOKEN))) !== 200) problems.push('the right token was refused');
    if ((await statusOf({ Cookie: cookies[0] ?? '' })) !== 200) problems.push('a session was refused');
    counts.rightWaited = Math.max(counts.rightWaited, Math.round(performance.now() - began));
    for (const status of await Promise.all(wrong)) if (status !== 401) problems.push(`a guess was answered ${status}`);
    const [here = '', there = ''] = cookies;
    const end = (cookie: string, everywhere: boolean) =>
      fetch(new URL('/api/session/end', server.address), asJson({ everywhere }, 'POST', { Cookie: cookie }));
    const everywhere = counts.rounds % 2 === 1;
    await end(here, everywhere);
    if ((await statusOf({ Cookie: here })) !== 401) problems.push('who signed out is let in');
    if (((await statusOf({ Cookie: there })) === 200) === everywhere)
      problems.push('signing out reached the wrong ones');
    await server.end('SIGKILL');
    await server.start(environment);
    cookies = [await signIn(), await signIn()];
    counts.rounds += 1;
  } while (more() && problems.length === 0);
  // So many guesses as come in twenty seconds: from one address only the first few hundred are looked at.
  const until = Date.now() + 20_000;
  const guesser = async () => {
    while (Date.now() < until) {
      const left = new AbortController();
      // A guesser does not wait for its answer.
      const patience = setTimeout(() => left.abort(), 700);
      const status = await statusOf(bearer(`guess ${counts.guesses}`), { signal: left.signal }).catch(() => 0);
      clearTimeout(patience);
      counts.guesses += 1;
      if (status !== 429) counts.guessesLookedAt += 1;
    }
  };
  await Promise.all(Array.from({ length: 40 }, guesser));
  if (counts.guessesLookedAt > 600) problems.push(`${counts.guessesLookedAt} guesses were looked at in twenty seconds`);
  if (counts.rightWaited > 2000) problems.push(`the right one waited ${counts.rightWaited} ms`);
  await server.end();
  return { ...counts, problems };
};
