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

/** Whether the server has said no, and would say it again. */
export const isRefused = (error: unknown): error is ApiError =>
  error instanceof ApiError && error.problem.status < 500;

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
    throw failureOf(0, '', null);
  }
  if (!response.ok) throw await failure(response);
  return response.status === 204 ? (undefined as T) : ((await response.json()) as T);
}

/**
 * The error of a request by what came back.
 * @param status 0 where nothing did
 * @param body what it says of it; null where it says nothing
 */
export function failureOf(status: number, title: string, body: unknown): ApiError {
  if (status > 0 && typeof body === 'object' && body !== null) return new ApiError(body as ProblemDetails);
  return new ApiError({
    type: 'about:blank',
    title: status === 0 ? 'No connection' : title,
    status,
    detail:
      status === 0
        ? 'Loka’s server does not answer. What you typed is still here; try again in a moment.'
        : `The server answered ${status}.`,
  });
}

const failure = async (response: Response): Promise<ApiError> =>
  failureOf(
    response.status,
    response.statusText,
    response.headers.get('content-type')?.includes('json') ? await response.json() : null,
  );

/** The words to show for an error of any kind. */
export const inWords = (error: unknown): string => (error instanceof Error ? error.message : String(error));
