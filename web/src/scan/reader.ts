import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader';
import url from 'zxing-wasm/reader/zxing_reader.wasm?url';

prepareZXingModule({ overrides: { locateFile: () => url } });

/** The text of the first code in a picture; undefined when there is none. */
export async function codeIn(picture: ImageData): Promise<string | undefined> {
  const found = await readBarcodes(picture, {
    formats: ['QRCode', 'DataMatrix', 'Code128', 'Code39', 'EAN13'],
    maxNumberOfSymbols: 1,
  });
  return found.find((f) => f.isValid && f.text)?.text;
}
