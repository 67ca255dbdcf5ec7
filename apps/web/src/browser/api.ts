/** The one fetch client: every request to the server goes through here. */
import {
  type BinItem,
  type BroughtIn,
  type Created,
  type EditsPage,
  type ErrorBody,
  type Glance,
  type HistoryPage,
  type KeptPointItem,
  type LibraryItem,
  type NoticeItem,
  type OpenArrangement,
  type PagesBody,
  type PartsAdded,
  REQUEST_HEADER,
  type ReadingItem,
  type Saved,
  type SessionItem,
  type SoundFontItem,
  type WentBack,
} from '@crispfold/contract';
import type { JournalEntry, KeptFeel, Plan, Sentence } from '@crispfold/core';

/** A problem the server told, or that it could not be reached (status 0). */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** The server's answer, where it is one of success; else the problem it tells. */
const answered = async (path: string, init: RequestInit = {}, base = '/api/arrangements'): Promise<Response> => {
  let response: Response;
  try {
    response = await fetch(base + path, init);
  } catch (error) {
    if (init.signal?.aborted) throw error;
    throw new ApiProblem(
      0,
      'offline',
      'Crisp Fold’s server does not answer. Your changes are kept here and saved when it is back.',
    );
  }
  if (response.ok) return response;
  const error = ((await response.json().catch(() => null)) as ErrorBody | null)?.error;
  throw new ApiProblem(
    response.status,
    error?.code ?? 'unexpected',
    error?.message ?? 'The server gave an answer that could not be read.',
  );
};

const request = async <Answer>(path: string, init: RequestInit = {}, base?: string): Promise<Answer> => {
  const response = await answered(path, init, base);
  if (response.status === 204) return undefined as Answer;
  return (await response.json().catch(() => null)) as Answer;
};

const asJson = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

/** A name for a request, so that one that is sent again is carried out once. */
export const newRequestId = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('');

const named = (init: RequestInit, requestId: string): RequestInit => ({
  ...init,
  headers: { ...init.headers, [REQUEST_HEADER]: requestId },
});

/** Sends a request once more under the same name where its answer was lost. */
const again = async <Answer>(
  send: (requestId: string) => Promise<Answer>,
  requestId = newRequestId(),
): Promise<Answer> => {
  try {
    return await send(requestId);
  } catch (error) {
    if (!(error instanceof ApiProblem) || error.status !== 0) throw error;
    return send(requestId);
  }
};

const asFiles = (files: readonly File[]): RequestInit => {
  const form = new FormData();
  for (const file of files) form.append('files', file);
  return { method: 'POST', body: form };
};

export const api = {
  list: () => request<LibraryItem[]>(''),
  open: (id: string) => request<OpenArrangement>(`/${id}`),
  history: (id: string, before: number) => request<HistoryPage>(`/${id}/history?before=${before}`),
  /** Reads files; how far that is can be asked for by the name of the request. */
  create: (files: readonly File[], signal: AbortSignal, requestId?: string) =>
    again((name) => request<BroughtIn>('', named({ ...asFiles(files), signal }, name)), requestId),
  addParts: (id: string, files: readonly File[], signal: AbortSignal) =>
    again((requestId) => request<PartsAdded>(`/${id}/parts`, named({ ...asFiles(files), signal }, requestId))),
  edits: (id: string, from: number, to: number, last: boolean) =>
    request<EditsPage>(`/${id}/edits?from=${from}&to=${to}&last=${last}`),
  points: (id: string) => request<KeptPointItem[]>(`/${id}/points`),
  backToPoint: (id: string, revision: number, requestId: string) =>
    request<WentBack>(`/${id}/points/${revision}`, named({ method: 'POST' }, requestId)),
  append: (id: string, baseRevision: number, entries: readonly JournalEntry[], requestId: string) =>
    request<Saved>(`/${id}/journal`, named(asJson('POST', { baseRevision, entries }), requestId)),
  /** Where an arrangement is taken away with its history, and where the whole library is as one file. */
  archiveAddress: (id: string) => `/api/arrangements/${id}/archive`,
  backupAddress: (recordings: boolean) => `/api/backup${recordings ? '?recordings=true' : ''}`,
  soundFont: () => request<SoundFontItem | null>('', {}, '/api/soundfont'),
  addSoundFont: (file: File) => request<SoundFontItem>('', asFiles([file]), '/api/soundfont'),
  removeSoundFont: () => request<void>('', { method: 'DELETE' }, '/api/soundfont'),
  soundFontFile: async (id: string): Promise<Blob> => (await answered(`/${id}`, {}, '/api/soundfont')).blob(),
  /** Keeps a recording beside the notes, and fetches it again. */
  addRecording: (id: string, file: File) => request<Created>(`/${id}/recordings`, asFiles([file])),
  recording: async (id: string, recording: string): Promise<Blob> =>
    (await answered(`/${id}/recordings/${recording}`)).blob(),
  bringBack: (file: File) => again((requestId) => request<Created>('/archive', named(asFiles([file]), requestId))),
  rename: (id: string, title: string) => request<Saved>(`/${id}`, asJson('PATCH', { title })),
  duplicate: (id: string) => request<Created>(`/${id}/duplicate`, { method: 'POST' }),
  remove: (id: string) => request<void>(`/${id}`, { method: 'DELETE' }),
  plans: () => request<Plan[]>('', {}, '/api/plans'),
  savePlan: (plan: Plan) => request<void>(`/${encodeURIComponent(plan.name)}`, asJson('PUT', plan), '/api/plans'),
  feels: () => request<KeptFeel[]>('', {}, '/api/feels'),
  saveFeel: (feel: KeptFeel) => request<void>(`/${encodeURIComponent(feel.name)}`, asJson('PUT', feel), '/api/feels'),
  deleteFeel: (name: string) => request<void>(`/${encodeURIComponent(name)}`, { method: 'DELETE' }, '/api/feels'),
  sentences: () => request<Sentence[]>('', {}, '/api/sentences'),
  saveSentence: (sentence: Sentence) =>
    request<void>(`/${encodeURIComponent(sentence.name)}`, asJson('PUT', sentence), '/api/sentences'),
  deleteSentence: (name: string) =>
    request<void>(`/${encodeURIComponent(name)}`, { method: 'DELETE' }, '/api/sentences'),
  /** The revision that a request led to; null where the server does not know it. */
  written: (id: string, requestId: string) => request<Saved | null>(`/${id}/writes/${requestId}`),
  session: () => request<SessionItem>('', {}, '/api/session'),
  signOut: (everywhere: boolean) => request<void>('/end', asJson('POST', { everywhere }), '/api/session'),
  notices: () => request<NoticeItem[]>('', {}, '/api/notices'),
  noticeRead: (id: number) => request<void>(`/${id}`, { method: 'DELETE' }, '/api/notices'),
  reading: (requestId: string) => request<ReadingItem>(`/${requestId}`, {}, '/api/readings'),
  bin: () => request<BinItem[]>('/bin'),
  removeForGood: (id: string) => request<void>(`/bin/${id}`, { method: 'DELETE' }),
  tag: (id: string, tags: readonly string[]) => request<void>(`/${id}/tags`, asJson('PUT', { tags })),
  glance: (id: string, glance: Glance) => request<void>(`/${id}/glance`, asJson('PUT', glance)),
  restore: (id: string) => request<void>(`/${id}/restore`, { method: 'POST' }),
  /** Pages as PDF, or several in a zip, under the name that the server gives them. */
  pages: async (id: string, body: PagesBody): Promise<{ readonly name: string; readonly content: Blob }> => {
    const response = await answered(`/${id}/pages`, asJson('POST', body));
    const said = response.headers.get('Content-Disposition') ?? '';
    const encoded = /filename\*=UTF-8''([^;]+)/i.exec(said)?.[1];
    const plain = /filename="([^"]*)"/i.exec(said)?.[1];
    return { name: encoded ? decodeURIComponent(encoded) : (plain ?? 'pages.pdf'), content: await response.blob() };
  },
};
