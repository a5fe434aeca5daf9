import { parse } from 'cookie';
import type { Request, Response } from 'express';

const NAME = 'bold_compass_session';

export function sessionToken(request: Request): string | undefined {
  return parse(request.headers.cookie ?? '')[NAME];
}

/** `Lax` keeps the cookie off requests that other sites send, and on when a link leads here. */
export function setSessionCookie(request: Request, response: Response, token: string): void {
  response.cookie(NAME, token, { httpOnly: true, sameSite: 'lax', secure: request.secure, path: '/' });
}

export function clearSessionCookie(response: Response): void {
  response.clearCookie(NAME, { path: '/' });
}
