import { demoPeopleSchema, demoSignInSchema, sessionSchema, signInSchema } from '@bold-compass/core/api';
import type { Sessions } from '../people/index.ts';
import { clearSessionCookie, sessionToken, setSessionCookie } from './cookies.ts';
import { ApiError } from './problems.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

export function sessionRoutes(sessions: Sessions, demo: boolean): Route[] {
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
        const token = await sessions.signIn(body.email, body.password);
        if (!token) throw new ApiError('sign-in-failed', 'This email and password do not belong together. Check both and try again.');
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
        setSessionCookie(request, response, token);
        return { person: (await sessions.caller(token))!.person, demo: true };
      },
    }),
  ];
}
