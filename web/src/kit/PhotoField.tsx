import { useEffect, useState } from 'react';
import { named } from '../api/device';
import type { TakenPhoto } from '../api/kept';
import { fitted } from '../api/photo';

/** Takes a picture and shows it; it can be taken anew, or left out. */
export function PhotoField({
  photo,
  onPhoto,
}: {
  photo: TakenPhoto | undefined;
  onPhoto: (photo: TakenPhoto | undefined) => void;
}) {
  const [wrong, setWrong] = useState('');
  const [url, setURL] = useState<string>();
  useEffect(() => {
    if (!photo) return setURL(undefined);
    const made = URL.createObjectURL(photo.data);
    setURL(made);
    return () => URL.revokeObjectURL(made);
  }, [photo]);
  async function take(file: File | undefined) {
    if (!file) return;
    try {
      const data = await fitted(file);
      onPhoto({ ...(await named(data)), data });
      setWrong('');
    } catch {
      setWrong('That file is not a picture. Take a photo, or choose a JPEG or PNG.');
    }
  }
  return (
    <div className="photo-field">
      {url && <img src={url} alt="as it is kept" />}
      <label className="btn">
        {photo ? 'Take another photo' : 'Take a photo'}
        <input
          type="file"
          accept="image/jpeg,image/png,image/webp"
          capture="environment"
          className="sr"
          onChange={(e) => {
            void take(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
      </label>
      {photo && (
        <button type="button" className="btn" onClick={() => onPhoto(undefined)}>
          Leave it out
        </button>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
