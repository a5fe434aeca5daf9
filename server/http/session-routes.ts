import { demoPeopleSchema, demoSignInSchema, sessionSchema, signInSchema } from '@bold-compass/core/api';
import { SignInThrottle, type Sessions } from '../people/index.ts';
import type { Request } from 'express';
import { clearSessionCookie, sessionToken, setSessionCookie } from './cookies.ts';
import { ApiError } from '../problems/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

/** A session that was there before a sign-in ends with it: nobody goes on with a token from before. */
async function renew(sessions: Sessions, request: Request): Promise<void> {
  const before = sessionToken(request);
  if (before) await sessions.end(before);
}

export function sessionRoutes(sessions: Sessions, demo: boolean): Route[] {
  const throttle = new SignInThrottle();
  return [
    route({
      method: 'get',
      path: '/session',
      summary: 'Who is signed in',
      open: 'anyone',
      params: noParams,
      body: noBody,
      answer: sessionSchema,
      async handle({ request }) {
        const token = sessionToken(request);
        return { person: (token && (await sessions.caller(token))?.person) || null, demo };
      },
    }),
    route({
      method: 'post',
      path: '/session',
      summary: 'Sign in with email and password',
      open: 'anyone',
      params: noParams,
      body: signInSchema,
      answer: sessionSchema,
      async handle({ body, request, response }) {
        const token = await throttle.attempt(request.ip ?? '', body.email, () => sessions.signIn(body.email, body.password));
        if (!token) throw new ApiError('sign-in-failed', 'This email and password do not belong together. Check both and try again.');
        await renew(sessions, request);
        setSessionCookie(request, response, token);
        return { person: (await sessions.caller(token))!.person, demo };
      },
    }),
    route({
      method: 'delete',
      path: '/session',
      summary: 'Sign out',
      open: 'anyone',
      params: noParams,
      body: noBody,
      answer: sessionSchema,
      async handle({ request, response }) {
        const token = sessionToken(request);
        if (token) await sessions.end(token);
        clearSessionCookie(response);
        return { person: null, demo };
      },
    }),
    route({
      method: 'delete',
      path: '/sessions',
      summary: 'Sign out on every device',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: sessionSchema,
      async handle({ caller, response }) {
        await sessions.endAll(caller.person.id);
        clearSessionCookie(response);
        return { person: null, demo };
      },
    }),
    ...(demo ? demoRoutes(sessions) : []),
  ];
}

/** Only there in demo mode. */
function demoRoutes(sessions: Sessions): Route[] {
  return [
    route({
      method: 'get',
      path: '/demo-people',
      summary: 'The made-up people of the demo',
      open: 'anyone',
      params: noParams,
      body: noBody,
      answer: demoPeopleSchema,
      handle: () => sessions.demoPeople(),
    }),
    route({
      method: 'post',
      path: '/demo-session',
      summary: 'Enter the demo as one of its people',
      open: 'anyone',
      params: noParams,
      body: demoSignInSchema,
      answer: sessionSchema,
      async handle({ body, request, response }) {
        const token = await sessions.signInDemo(body.person);
        if (!token) throw new ApiError('sign-in-failed', 'This person is not among those of the demo. Choose one from the list.');
        await renew(sessions, request);
        setSessionCookie(request, response, token);
        return { person: (await sessions.caller(token))!.person, demo: true };
      },
    }),
  ];
}
