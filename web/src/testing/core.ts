import { readFile } from 'node:fs/promises';

/** Puts the rules of the job on the page, as the browser has them: the same WebAssembly, read from the disk. */
export async function realCore(): Promise<void> {
  await import('../wasm/wasm_exec.js');
  const go = new Go();
  const bytes = await readFile('src/wasm/core.wasm');
  const { instance } = (await WebAssembly.instantiate(
    bytes,
    go.importObject,
  )) as unknown as WebAssembly.WebAssemblyInstantiatedSource;
  void go.run(instance);
}
