/// <reference lib="webworker" />
import { start } from '../../core/core';

// The lab computes here, so that the page never waits for it.
let loading: Promise<void> | undefined;

addEventListener('message', (e: MessageEvent<{ id: number; name: string; question: string }>) => {
  const { id, name, question } = e.data;
  loading ??= start(() => import('../../wasm/lab.wasm?url'));
  loading
    .then(() => {
      const answer = globalThis.dynacorLab?.(name, question) ?? '{"refusal":{"field":"","why":"the lab is not there"}}';
      postMessage({ id, answer });
    })
    .catch((err: Error) => {
      loading = undefined;
      postMessage({ id, answer: JSON.stringify({ refusal: { field: '', why: err.message } }) });
    });
});
