import type { Middleware } from 'openapi-fetch';
import type { Problem } from './client';

/** What somebody with authority is asked for: their name and PIN, to let a thing be done. */
export interface ConsentAsked {
  why: string; // in the server's words
  give: (personId: string, pin: string) => void;
  refuse: () => void;
}

let ask: ((asked: ConsentAsked) => void) | undefined;

/** Says who asks people for their consent: the page's shell. */
export function onConsent(show: ((asked: ConsentAsked) => void) | undefined) {
  ask = show;
}

const sent = new Map<string, Request>();

/** Sends a request once more with the consent that the server asked for, as often as it asks; without one its refusal stands. */
export const consent: Middleware = {
  onRequest({ request, id }) {
    if (request.method !== 'GET') sent.set(id, request.clone());
  },
  async onResponse({ response, id }) {
    const again = sent.get(id);
    sent.delete(id);
    let answer = response;
    while (again && ask && answer.status === 403) {
      const problem = (await answer.clone().json()) as Problem;
      if (problem.field !== 'consent') break;
      const show = ask;
      const given = await new Promise<[string, string] | undefined>((done) =>
        show({
          why: [problem.title, problem.remedy].filter(Boolean).join(' '),
          give: (personId, pin) => done([personId, pin]),
          refuse: () => done(undefined),
        }),
      );
      if (!given) break;
      const next = again.clone();
      next.headers.set('Consent-Person', given[0]);
      next.headers.set('Consent-Pin', encodeURIComponent(given[1]));
      answer = await fetch(next);
    }
    return answer;
  },
};
