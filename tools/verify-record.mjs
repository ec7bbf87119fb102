#!/usr/bin/env node
// A second reader of Dynacor's sealed records, written from their description (docs/formats.md) and sharing nothing with the
// program. It needs Node 20 and nothing else.
//
//   node verify-record.mjs FILE [PUBLIC-KEY-IN-BASE64 ...]
//
// It says whether the file is, byte for byte, what the holder of the key signed, and whether its events, and what was added behind the
// seal, follow from one another. It does not follow the plan: working the verdict out again is left to the program. Ends with 0 when the
// record holds, else with 1.
import { createHash, createPublicKey, verify as verifySignature } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';

const bounds = { bytes: 16 << 20, depth: 48, keys: 200_000, additions: 500 };
const sha256 = (...texts) => texts.reduce((h, t) => h.update(t, 'utf8'), createHash('sha256')).digest('hex');

/** Reads JSON strictly. A value becomes { text, kids?, list? }: its canonical text, and its members when it has some. */
function strict(bytes) {
  if (bytes.length > bounds.bytes) throw new Error('the file is too large');
  const s = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  let at = 0;
  const bad = () => new Error(`the file is not JSON at character ${at + 1}`);
  const blank = () => {
    while (at < s.length && ' \n\r\t'.includes(s[at])) at++;
  };
  const match = (re) => {
    re.lastIndex = at;
    const m = re.exec(s);
    if (!m) throw bad();
    at = re.lastIndex;
    return m[0];
  };
  const string = () => {
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are the characters that a text must not hold
    const raw = match(/"(?:[^"\\\x00-\x1f]|\\(?:["\\/bfnrt]|u[0-9a-fA-F]{4}))*"/y);
    const said = JSON.parse(raw);
    if (!said.isWellFormed()) throw new Error('a text has half a character');
    return said;
  };
  function members(depth) {
    const kids = new Map();
    at++;
    blank();
    for (let first = true; s[at] !== '}'; first = false) {
      if (!first && s[at++] !== ',') throw bad();
      blank();
      const key = string();
      blank();
      if (s[at++] !== ':') throw bad();
      blank();
      if (kids.has(key)) throw new Error(`the key ${JSON.stringify(key)} stands twice in one object`);
      kids.set(key, value(depth + 1));
      if (kids.size > bounds.keys) throw new Error('an object has too many keys');
      blank();
    }
    at++;
    const sorted = [...kids.keys()].sort((a, b) => Buffer.compare(Buffer.from(a), Buffer.from(b)));
    return { text: `{${sorted.map((k) => `${canonical(k)}:${kids.get(k).text}`).join(',')}}`, kids };
  }
  function elements(depth) {
    const kids = [];
    at++;
    blank();
    for (let first = true; s[at] !== ']'; first = false) {
      if (!first && s[at++] !== ',') throw bad();
      blank();
      kids.push(value(depth + 1));
      blank();
    }
    at++;
    return { text: `[${kids.map((k) => k.text).join(',')}]`, kids: new Map(kids.entries()), list: true };
  }
  function value(depth) {
    const c = s[at];
    if ((c === '{' || c === '[') && depth >= bounds.depth) throw new Error('the file is nested too deep');
    if (c === '{') return members(depth);
    if (c === '[') return elements(depth);
    if (c === '"') {
      const said = string();
      return { text: canonical(said), said };
    }
    return { text: match(/-?(?:0|[1-9][0-9]*)(?:\.[0-9]+)?(?:[eE][-+]?[0-9]+)?|true|false|null/y) };
  }
  blank();
  const top = value(0);
  blank();
  if (at !== s.length) throw new Error('text follows the end of the file’s value');
  return top;
}

/** The one way a text is written: as JSON.stringify does, but for two line separators. */
const canonical = (said) => JSON.stringify(said).replaceAll('\u2028', '\\u2028').replaceAll('\u2029', '\\u2029');

function exactly(what, node, ...keys) {
  if (!node?.kids || node.list) throw new Error(`${what} is not an object`);
  for (const k of node.kids.keys()) if (!keys.includes(k)) throw new Error(`${what} has a key ${JSON.stringify(k)} that does not belong there`);
  for (const k of keys) if (!node.kids.has(k)) throw new Error(`${what} has no ${JSON.stringify(k)}`);
  return Object.fromEntries(node.kids);
}

/** Decodes base64 that is written in the one usual way. */
function exactBase64(node, size, what) {
  const b = Buffer.from(node.said ?? '', 'base64');
  if (b.length !== size || b.toString('base64') !== node.said) throw new Error(`${what} is not written as it should be`);
  return b;
}

const pointer = (key) => String(key).replaceAll('~', '~0').replaceAll('/', '~1');

/** The parts of a record that have digests, by name: in the second format a JSON Pointer, in the first a dotted path. */
function parts(record, second) {
  const out = new Map();
  for (const [key, node] of record.kids) {
    const cut = second ? ['plan', 'state', 'events'].includes(key) && node.kids?.size : node.kids;
    if (!cut) out.set(second ? `/${pointer(key)}` : key, node.text);
    else
      for (const [k, kid] of node.kids)
        out.set(second ? `/${pointer(key)}/${pointer(k)}` : node.list ? `${key}[${k + 1}]` : `${key}.${k}`, kid.text);
  }
  return out;
}

/** Whether the holder of a key signed a text; throws an Error when the key is not the one that is named. */
function signed(text, keyNode, keyId, signatureNode, trusted) {
  const key = exactBase64(keyNode, 32, 'the key');
  const signature = exactBase64(signatureNode, 64, 'the signature');
  if (createHash('sha256').update(key).digest('hex').slice(0, 16) !== keyId) throw new Error('the key is not the one that is named');
  if (trusted.length && !trusted.includes(keyNode.said)) throw new Error('the key is not one of those that are trusted');
  const spki = Buffer.concat([Buffer.from('302a300506032b6570032100', 'hex'), key]);
  return verifySignature(null, Buffer.from(text), createPublicKey({ key: spki, format: 'der', type: 'spki' }), signature);
}

const additionKeys = ['format', 'record', 'mark', 'seq', 'prevHash', 'at', 'keyId', 'kind', 'person', 'what', 'place', 'was', 'is', 'visits',
  'torqueNm', 'tool', 'toolIs', 'limitDeg', 'limitFrom', 'verdict', 'sentence', 'audit', 'test', 'testMark', 'failed'];

/** Verifies what was added behind a seal: each signed, in its place, in its time. */
function verifyAdditions(list, sealed, trusted) {
  if (!list?.list || list.kids.size > bounds.additions) throw new Error('the additions are no list, or too many');
  let previous = sealed.mark;
  let before = Date.parse(sealed.sealedAt);
  let n = 0;
  for (const node of list.kids.values()) {
    n++;
    const file = exactly(`addition ${n}`, node, 'addition', 'signature', 'publicKey');
    const a = file.addition.kids;
    if (!a || file.addition.list) throw new Error(`addition ${n} is not an object`);
    for (const k of a.keys()) if (!additionKeys.includes(k)) throw new Error(`addition ${n} has a key ${JSON.stringify(k)}`);
    const said = (k) => a.get(k)?.said;
    if (said('format') !== 'dynacor-addition/1') throw new Error(`addition ${n} has a format that is not known here`);
    if (!signed(`${said('format')}\n${file.addition.text}`, file.publicKey, said('keyId'), file.signature, trusted))
      throw new Error(`addition ${n} was changed: its signature does not fit`);
    if (said('record') !== sealed.number || said('mark') !== sealed.mark) throw new Error(`addition ${n} belongs to another record`);
    if (a.get('seq')?.text !== String(n) || said('prevHash') !== previous) throw new Error(`an addition was removed, added or moved at place ${n}`);
    if (!(Date.parse(said('at')) >= before)) throw new Error(`addition ${n} is older than what it stands behind`);
    previous = sha256(file.addition.text);
    before = Date.parse(said('at'));
  }
  return n;
}

/**
 * Verifies the bytes of a file, of a record alone or with what was added behind it; throws an Error that says what is wrong. `trusted` are
 * public keys in base64; none: any key.
 */
export function verify(bytes, trusted = []) {
  const top = strict(bytes);
  if (!(top.kids?.has('file') && top.kids.has('additions'))) return verifySealed(top, trusted);
  const whole = exactly('the file', top, 'file', 'additions');
  const sealed = verifySealed(whole.file, trusted);
  return { ...sealed, additions: verifyAdditions(whole.additions, sealed, trusted) };
}

function verifySealed(node, trusted) {
  const file = exactly('the file', node, 'seal', 'record', 'publicKey', 'signature');
  const format = file.seal.kids?.get('format')?.said;
  const second = format === 'dynacor-record/2';
  if (!second && format !== 'dynacor-record/1') throw new Error(`the format ${JSON.stringify(format)} is not known here`);
  const seal = exactly('the seal', file.seal, 'format', 'number', 'joint', 'sealedAt', 'keyId', ...(second ? ['whole', 'parts'] : ['digests']));
  const text = second ? `${format}\n${file.seal.text}\n${file.record.text}` : file.seal.text;
  if (!signed(text, file.publicKey, seal.keyId.said, file.signature, trusted)) throw new Error('the signature does not fit');

  const names = ['number', 'site', 'runId', 'plan', 'events', 'state', 'statement'];
  const record = second ? exactly('the record', file.record, ...names) : Object.fromEntries(file.record.kids ?? []);
  for (const k of Object.keys(record)) if (!names.includes(k)) throw new Error(`the record has a key ${JSON.stringify(k)}`);
  if (second && sha256(file.record.text) !== seal.whole.said) throw new Error('the record is not the one that was sealed');
  const here = parts(file.record, second);
  const sealed = (second ? seal.parts : seal.digests).kids ?? new Map();
  for (const [name, text] of here) if (sealed.get(name)?.said !== sha256(text)) throw new Error(`${name} was changed or added`);
  for (const name of sealed.keys()) if (!here.has(name)) throw new Error(`${name} was removed`);

  let previous = '';
  let n = 0;
  if (!record.events?.list) throw new Error('the record has no list of events');
  for (const node of record.events.kids.values()) {
    const e = exactly('an entry', node, 'seq', 'receivedAt', 'prevHash', 'hash', 'event');
    n++;
    if (e.seq.text !== String(n)) throw new Error(`an event was removed, added or moved at place ${n}`);
    if (e.prevHash.said !== previous) throw new Error(`event ${n} does not follow from the one before it`);
    const link = `{"event":${e.event.text},"receivedAt":${e.receivedAt.text},"run":${record.runId.text},"seq":${n}}`;
    if (sha256(previous, link) !== e.hash.said) throw new Error(`event ${n} was changed after it was recorded`);
    previous = e.hash.said;
  }
  return {
    number: seal.number.said,
    joint: seal.joint.said,
    sealedAt: seal.sealedAt.said,
    keyId: seal.keyId.said,
    events: n,
    mark: sha256(file.seal.text),
    additions: 0,
  };
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  const [path, ...trusted] = process.argv.slice(2);
  if (!path) {
    console.error('usage: node verify-record.mjs FILE [PUBLIC-KEY-IN-BASE64 ...]');
    process.exit(2);
  }
  try {
    const r = verify(readFileSync(path), trusted);
    console.log(`The record holds: ${r.number}, joint ${r.joint}, sealed ${r.sealedAt}, ${r.events} events, ${r.additions} additions, key ${r.keyId}.`);
    if (!trusted.length) console.log('The key was taken from the file: compare it with the one the site has made known.');
  } catch (e) {
    console.log(`The record does not hold: ${e.message}.`);
    process.exit(1);
  }
}
