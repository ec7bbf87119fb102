/** Longest side of a kept photo, px: enough to judge a sealing face, small enough for a poor network. */
const longest = 1600;

/** Turns a photo upright and makes it a JPEG of modest size, on the device, before it is kept. Throws when it is not a picture. */
export async function fitted(data: Blob): Promise<Blob> {
  const picture = await createImageBitmap(data);
  const by = Math.min(1, longest / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(picture.width * by));
  canvas.height = Math.max(1, Math.round(picture.height * by));
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return new Promise((done, fail) =>
    canvas.toBlob((b) => (b ? done(b) : fail(new Error('no picture'))), 'image/jpeg', 0.85),
  );
}
