import { db } from './kept';

/** The key of this device: it signs what is recorded here, and its private half never leaves the browser. */
export interface DeviceKey {
  id: string; // first 16 hex digits of the SHA-256 of the public key
  publicKey: string; // SubjectPublicKeyInfo, base64
  sign(text: string): Promise<string>; // r and s, 64 bytes, base64
}

const curve = { name: 'ECDSA', namedCurve: 'P-256' };
const how = { name: 'ECDSA', hash: 'SHA-256' };

const base64 = (b: ArrayBuffer) => btoa(String.fromCharCode(...new Uint8Array(b)));
const hex = (b: ArrayBuffer) => [...new Uint8Array(b)].map((x) => x.toString(16).padStart(2, '0')).join('');

/** The digest that stands in for a text where it is signed. */
export const digest = async (text: string) =>
  hex(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)));

let made: Promise<DeviceKey | undefined> | undefined;

/** Gives this device's key, made on first use; undefined on a page without TLS, where browsers make none. */
export function deviceKey(): Promise<DeviceKey | undefined> {
  made ??= open();
  made.catch(() => {
    made = undefined;
  });
  return made;
}

async function open(): Promise<DeviceKey | undefined> {
  if (!globalThis.crypto?.subtle) return undefined;
  let kept = await db.keys.get('device');
  if (!kept) {
    const pair = (await crypto.subtle.generateKey(curve, false, ['sign', 'verify'])) as CryptoKeyPair;
    // Two pages opened at once make one key: the first that is kept is the device's.
    await db.transaction('rw', db.keys, async () => {
      kept = await db.keys.get('device');
      if (!kept) await db.keys.add({ id: 'device', pair });
    });
    kept ??= { id: 'device', pair };
  }
  const { pair } = kept;
  const spki = await crypto.subtle.exportKey('spki', pair.publicKey);
  return {
    id: hex(await crypto.subtle.digest('SHA-256', spki)).slice(0, 16),
    publicKey: base64(spki),
    sign: async (text) => base64(await crypto.subtle.sign(how, pair.privateKey, new TextEncoder().encode(text))),
  };
}

/** What the device signs of an event: its run, and the digest of its text exactly as it is sent. */
export async function proveEvent(run: string, text: string): Promise<string | undefined> {
  const key = await deviceKey();
  return key?.sign(`dynacor-event/1\n${run}\n${await digest(text)}`);
}

/** What a sign-in carries so that the device is known by its key. */
export async function proveDevice(personId: string): Promise<{ deviceKey?: string; deviceProof?: string }> {
  const key = await deviceKey();
  if (!key) return {};
  return { deviceKey: key.publicKey, deviceProof: await key.sign(`dynacor-sign-in/1\n${personId}\n${key.id}`) };
}
