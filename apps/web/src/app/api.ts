/** The one fetch client: every request to the server goes through here. */
import type {
  BroughtIn,
  Created,
  ErrorBody,
  HistoryPage,
  LibraryItem,
  OpenArrangement,
  PartsAdded,
  Saved,
} from '@crispfold/contract';
import type { JournalEntry, Plan, Sentence } from '@crispfold/core';

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

const request = async <Answer>(path: string, init: RequestInit = {}, base = '/api/arrangements'): Promise<Answer> => {
  let response: Response;
  try {
    response = await fetch(base + path, init);
  } catch {
    throw new ApiProblem(
      0,
      'offline',
      'Crisp Fold’s server does not answer. Your changes are kept here and saved when it is back.',
    );
  }
  if (response.status === 204) return undefined as Answer;
  const body = (await response.json().catch(() => null)) as Answer | ErrorBody | null;
  if (!response.ok) {
    const error = (body as ErrorBody | null)?.error;
    throw new ApiProblem(
      response.status,
      error?.code ?? 'unexpected',
      error?.message ?? 'The server gave an answer that could not be read.',
    );
  }
  return body as Answer;
};

const asJson = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

const asFiles = (files: readonly File[]): RequestInit => {
  const form = new FormData();
  for (const file of files) form.append('files', file);
  return { method: 'POST', body: form };
};

export const api = {
  list: () => request<LibraryItem[]>(''),
  open: (id: string) => request<OpenArrangement>(`/${id}`),
  history: (id: string, before: number) => request<HistoryPage>(`/${id}/history?before=${before}`),
  create: (files: readonly File[]) => request<BroughtIn>('', asFiles(files)),
  addParts: (id: string, files: readonly File[]) => request<PartsAdded>(`/${id}/parts`, asFiles(files)),
  append: (id: string, baseRevision: number, entries: readonly JournalEntry[]) =>
    request<Saved>(`/${id}/journal`, asJson('POST', { baseRevision, entries })),
  rename: (id: string, title: string) => request<Saved>(`/${id}`, asJson('PATCH', { title })),
  duplicate: (id: string) => request<Created>(`/${id}/duplicate`, { method: 'POST' }),
  remove: (id: string) => request<void>(`/${id}`, { method: 'DELETE' }),
  plans: () => request<Plan[]>('', {}, '/api/plans'),
  savePlan: (plan: Plan) => request<void>(`/${encodeURIComponent(plan.name)}`, asJson('PUT', plan), '/api/plans'),
  sentences: () => request<Sentence[]>('', {}, '/api/sentences'),
  saveSentence: (sentence: Sentence) =>
    request<void>(`/${encodeURIComponent(sentence.name)}`, asJson('PUT', sentence), '/api/sentences'),
  deleteSentence: (name: string) =>
    request<void>(`/${encodeURIComponent(name)}`, { method: 'DELETE' }, '/api/sentences'),
  restore: (id: string) => request<void>(`/${id}/restore`, { method: 'POST' }),
};
