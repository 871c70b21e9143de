import type { ProblemDetails } from '@loka/contract/health';

/** A request that the server refused, or that did not reach it. */
export class ApiError extends Error {
  override name = 'ApiError';
  constructor(readonly problem: ProblemDetails) {
    super(problem.detail);
  }

  /** What is wrong with a field of the form that was sent. */
  at(field: string): string | undefined {
    return this.problem.errors?.find((e) => e.field === field)?.message;
  }
}

/** Asks the server. @throws ApiError */
export async function api<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'content-type': 'application/json' },
      body: body === undefined ? null : JSON.stringify(body),
    });
  } catch {
    throw new ApiError({
      type: 'about:blank',
      title: 'No connection',
      status: 0,
      detail: 'Loka’s server does not answer. What you typed is still here; try again in a moment.',
    });
  }
  if (!response.ok) throw new ApiError(await problemOf(response));
  return response.status === 204 ? (undefined as T) : ((await response.json()) as T);
}

async function problemOf(response: Response): Promise<ProblemDetails> {
  if (response.headers.get('content-type')?.includes('json'))
    return (await response.json()) as ProblemDetails;
  return {
    type: 'about:blank',
    title: response.statusText,
    status: response.status,
    detail: `The server answered ${response.status}.`,
  };
}

/** The words to show for an error of any kind. */
export const inWords = (error: unknown): string => (error instanceof Error ? error.message : String(error));
