/** What went wrong, in the server's words. */
export class ApiError extends Error {
  override name = 'ApiError';
  constructor(
    readonly status: number,
    title: string,
    readonly where?: string,
    readonly remedy?: string,
    /** The drawing that is the very same file. */
    readonly same?: string,
    /** Asked again after a while it can be done. */
    readonly later?: boolean,
  ) {
    super(title);
  }
}

/** What is said of something that was stopped by hand. */
export const STOPPED = 'Stopped.';
const UNREACHABLE = 'The server does not answer. Is it still running?';

interface Told {
  title?: string;
  where?: string;
  remedy?: string;
  same?: string;
  later?: boolean;
}

const told = (status: number, body: Told): ApiError =>
  new ApiError(status, body.title ?? `The server answered ${status}.`, body.where, body.remedy, body.same, body.later);

async function failure(response: Response): Promise<ApiError> {
  const body = (await response.json().catch(() => ({}))) as Told;
  return told(response.status, body);
}

async function ask(path: string, init?: RequestInit): Promise<Response> {
  const response = await fetch(path, init).catch(() => {
    throw new ApiError(0, init?.signal?.aborted ? STOPPED : UNREACHABLE);
  });
  if (!response.ok) throw await failure(response);
  return response;
}

export const getJson = async <T>(path: string): Promise<T> => (await ask(path)).json() as Promise<T>;

/** Sends JSON; `signal` stops waiting, and the server with it. */
export async function sendJson<T>(
  method: 'POST' | 'PATCH' | 'PUT' | 'DELETE',
  path: string,
  body: unknown = {},
  signal?: AbortSignal,
): Promise<T> {
  const init = {
    ...(signal && { signal }),
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  };
  return (await ask(path, init)).json() as Promise<T>;
}

/** What a request is called: sent again under the same name, it makes nothing twice. */
const named = (key: string): Record<string, string> => ({ 'Idempotency-Key': key });

/** Sends JSON that makes something; once more when the answer got lost on the way. */
export async function makeJson<T>(path: string, body: unknown): Promise<T> {
  const headers = { 'Content-Type': 'application/json', ...named(crypto.randomUUID()) };
  const send = (): Promise<Response> => ask(path, { method: 'POST', headers, body: JSON.stringify(body) });
  const answer = await send().catch((e: unknown) => {
    if (e instanceof ApiError && e.status === 0) return send();
    throw e;
  });
  return answer.json() as Promise<T>;
}

export const getBytes = async (path: string): Promise<ArrayBuffer> => (await ask(path)).arrayBuffer();

export async function sendBytes<T>(path: string, file: Blob, signal?: AbortSignal): Promise<T> {
  const headers = { 'Content-Type': 'application/octet-stream', ...named(crypto.randomUUID()) };
  const init = { ...(signal && { signal }), method: 'POST', headers, body: file };
  return (await ask(path, init)).json() as Promise<T>;
}

/** Sends a file with progress (0 to 1); `fetch` cannot tell how far an upload has come. */
export function upload<T>(
  path: string,
  file: File,
  onProgress: (done: number) => void,
): { done: Promise<T>; cancel: () => void } {
  const request = new XMLHttpRequest();
  const done = new Promise<T>((resolve, reject) => {
    request.open('POST', path);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    for (const [header, value] of Object.entries(named(crypto.randomUUID()))) request.setRequestHeader(header, value);
    request.upload.onprogress = (e) => onProgress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onerror = () => reject(new ApiError(0, UNREACHABLE));
    request.onabort = () => reject(new ApiError(0, STOPPED));
    request.onload = () => {
      const body = JSON.parse(request.responseText || '{}') as Told;
      if (request.status < 300) resolve(body as T);
      else reject(told(request.status, body));
    };
    request.send(file);
  });
  return { done, cancel: () => request.abort() };
}
