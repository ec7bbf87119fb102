import { afterEach, expect, test, vi } from 'vitest';
import { type ConsentAsked, consent, onConsent } from './consent';

const refusal = (field: string) =>
  new Response(JSON.stringify({ title: 'It takes a PIN.', remedy: 'Ask an engineer.', status: 403, field }), {
    status: 403,
  });
type Given = Parameters<NonNullable<typeof consent.onResponse>>[0];

/** Sends a request through the door, with the answers that the server gives in turn. */
async function through(first: Response, later: Response[]) {
  const request = new Request('http://here/api/joints', { method: 'POST', body: '{"tag":"A-1"}' });
  const seen: Request[] = [];
  vi.stubGlobal('fetch', async (r: Request) => {
    seen.push(r);
    return later.shift();
  });
  await consent.onRequest?.({ request, id: '1' } as never);
  const answer = (await consent.onResponse?.({ request, response: first, id: '1' } as Given)) as Response;
  return { answer, seen };
}

afterEach(() => {
  onConsent(undefined);
  vi.unstubAllGlobals();
});

test('the same is sent again with the PIN that was given, as often as it is asked for', async () => {
  const asked: ConsentAsked[] = [];
  onConsent((a) => {
    asked.push(a);
    a.give('p-1', 'grün 7');
  });
  const { answer, seen } = await through(refusal('consent'), [refusal('consent'), new Response('{}', { status: 201 })]);
  expect(answer.status).toBe(201);
  expect(asked.map((a) => a.why)).toEqual(['It takes a PIN. Ask an engineer.', 'It takes a PIN. Ask an engineer.']);
  expect(seen).toHaveLength(2);
  expect(seen[1]?.headers.get('Consent-Person')).toBe('p-1');
  expect(decodeURIComponent(seen[1]?.headers.get('Consent-Pin') ?? '')).toBe('grün 7');
  expect(await seen[1]?.json()).toEqual({ tag: 'A-1' });
});

test('a refusal stands when nobody gives leave, or when it is about something else', async () => {
  onConsent((a) => a.refuse());
  expect((await through(refusal('consent'), [])).answer.status).toBe(403);
  onConsent((a) => a.give('p-1', '1'));
  expect((await through(refusal('target'), [])).seen).toHaveLength(0);
});
