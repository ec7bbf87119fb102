import { Modal, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { scanned } from './takers';
import './scan.css';

const look = 150; // ms between two looks through the camera

/** Why there is no picture, in words that say what to do. */
function whyNot(e: unknown): string {
  const name = e instanceof DOMException ? e.name : '';
  if (name === 'NotAllowedError') return 'The camera may not be used. Allow it for this page in the browser, or type.';
  if (name === 'NotFoundError') return 'This device has no camera. Use a scanner that types, or type.';
  if (name === 'NotReadableError') return 'Another program has the camera. Close it, or type.';
  return 'There is no picture from the camera. Type what stands under the code.';
}

/** Looks through the camera until it sees a code. */
function Camera({ onCode }: { onCode: (text: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const give = useRef(onCode);
  const [wrong, setWrong] = useState('');
  useEffect(() => {
    give.current = onCode;
  });
  useEffect(() => {
    let stream: MediaStream | undefined;
    let timer = 0;
    let over = false;
    async function watch() {
      const { codeIn } = await import('./reader');
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
      const v = video.current;
      if (over || !v) return stop();
      v.srcObject = stream;
      await v.play();
      const canvas = document.createElement('canvas');
      const pen = canvas.getContext('2d', { willReadFrequently: true });
      const next = async () => {
        if (over || !pen) return;
        if (v.videoWidth > 0) {
          canvas.width = v.videoWidth;
          canvas.height = v.videoHeight;
          pen.drawImage(v, 0, 0);
          const text = await codeIn(pen.getImageData(0, 0, canvas.width, canvas.height));
          if (text && !over) return give.current(text);
        }
        timer = window.setTimeout(next, look);
      };
      await next();
    }
    function stop() {
      over = true;
      clearTimeout(timer);
      for (const t of stream?.getTracks() ?? []) t.stop();
    }
    if (!navigator.mediaDevices)
      setWrong('The camera works only where Dynacor is opened by https. Type what stands there.');
    else watch().catch((e: unknown) => !over && setWrong(whyNot(e)));
    return stop;
  }, []);
  return wrong ? (
    <p className="wrong" role="alert">
      {wrong}
    </p>
  ) : (
    <div className="scan-picture">
      <video ref={video} muted playsInline aria-label="What the camera sees" />
      <svg viewBox="0 0 100 100" aria-hidden="true">
        <path d="M22 34V22H34M66 22H78V34M78 66V78H66M34 78H22V66" />
      </svg>
    </div>
  );
}

/** Scans a code by camera, by a scanner that types, or typed by hand; it goes to whoever asked, or leads to its thing. */
export function ScanDialog({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const done = (t: string) => {
    onClose();
    scanned(t, true);
  };
  return (
    <Modal opened onClose={onClose} title="Scan a code" size="md">
      <Camera onCode={done} />
      <form
        className="scan-typed"
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim()) done(text);
        }}
      >
        <TextInput
          label="Or type what stands beside it"
          description="of a joint, a record or a tool; a scanner that types needs no field"
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          maxLength={200}
        />
        <button type="submit" className="btn now" disabled={!text.trim()}>
          Go
        </button>
      </form>
    </Modal>
  );
}
