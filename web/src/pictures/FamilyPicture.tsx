import { useState } from 'react';
import { flatPictures } from './flat';
import type { Look, Picture } from './picture';
import './pictures.css';
import { roundPictures } from './round';

export const pictures: Record<string, Picture> = { ...roundPictures, ...flatPictures };

const fills: Record<Look, string> = {
  cut: 'url(#hCut)',
  cutB: 'url(#hCutB)',
  black: 'var(--ink)',
  open: 'var(--film-2)',
  paper: 'var(--film)',
  line: 'none',
  axis: 'none',
  arrow: 'none',
};

/** The picture of a family; a family of the site's own has none. */
export const pictureOf = (family: string) => pictures[family];

function Shapes({ picture, lifted }: { picture: Picture; lifted: number }) {
  return picture.shapes.map((s) => {
    const style = {
      fill: fills[s.look],
      stroke: s.look === 'axis' ? 'var(--ink-3)' : 'var(--ink)',
      strokeWidth: s.part && s.part === lifted ? 2.8 : s.look === 'axis' ? 1 : s.look === 'arrow' ? 2.2 : 1.4,
      strokeLinejoin: 'round' as const,
      ...(s.look === 'axis' ? { strokeDasharray: '14 4 3 4' } : {}),
    };
    return (
      <g key={`${s.look} ${s.d}`}>
        <path d={s.d} style={style} {...(s.look === 'arrow' ? { markerEnd: 'url(#pictureArrow)' } : {})} />
        {s.mirror && <path d={s.d} style={style} transform={`matrix(1 0 0 -1 0 ${2 * s.mirror})`} />}
      </g>
    );
  });
}

/** The same small, without its numbers: what a family is known by. */
export function FamilyThumb({ picture, size }: { picture: Picture; size: number }) {
  return (
    <svg
      className="family-thumb"
      width={size * 1.35}
      height={size}
      viewBox={`0 0 356 ${picture.height}`}
      aria-hidden="true"
    >
      <Shapes picture={picture} lifted={0} />
    </svg>
  );
}

/** A family as it is put together: its parts numbered in the order of fitting, what each does beside it. Pressing one lifts it. */
export function FamilyPicture({ family }: { family: string }) {
  const [lifted, lift] = useState(0);
  const picture = pictureOf(family);
  if (!picture) return null;
  const toggle = (n: number) => lift((old) => (old === n ? 0 : n));
  return (
    <figure className="family-picture">
      <svg
        viewBox={`0 0 356 ${picture.height}`}
        role="img"
        aria-label={`${picture.how}: ${picture.parts.map((x, i) => `${i + 1} ${x.name}`).join(', ')}`}
      >
        <Shapes picture={picture} lifted={lifted} />
        <defs>
          <marker
            id="pictureArrow"
            viewBox="0 0 10 10"
            refX="7"
            refY="5"
            markerWidth="5"
            markerHeight="5"
            orient="auto"
          >
            <path d="M0 0L10 5L0 10Z" style={{ fill: 'var(--ink)' }} />
          </marker>
        </defs>
        {picture.words?.map(([x, y, text]) => (
          <text key={text} x={x} y={y} textAnchor="middle" className="picture-word">
            {text}
          </text>
        ))}
        {picture.parts.map((x, i) => (
          <Balloon key={x.name + String(x.at)} n={i + 1} at={x.at} to={x.to} lifted={lifted === i + 1} />
        ))}
      </svg>
      <ol>
        {picture.parts.map((x, i) => (
          <li key={x.name + String(x.at)}>
            <button
              type="button"
              className={lifted === i + 1 ? 'on' : ''}
              aria-pressed={lifted === i + 1}
              onClick={() => toggle(i + 1)}
            >
              <span className="no">{i + 1}</span>
              <span>
                <b>{x.name}</b>
                <small>{x.does}</small>
              </span>
            </button>
          </li>
        ))}
      </ol>
      <figcaption className="dim">{picture.how}</figcaption>
    </figure>
  );
}

function Balloon({
  n,
  at: [x, y],
  to: [px, py],
  lifted,
}: {
  n: number;
  at: [number, number];
  to: [number, number];
  lifted: boolean;
}) {
  const d = Math.hypot(px - x, py - y) || 1;
  const r = 12;
  return (
    <g>
      <path
        d={`M${x + ((px - x) / d) * r} ${y + ((py - y) / d) * r}L${px} ${py}`}
        style={{ stroke: 'var(--ink)', strokeWidth: lifted ? 2 : 1 }}
      />
      <circle cx={px} cy={py} r="3" style={{ fill: 'var(--ink)' }} />
      <circle
        cx={x}
        cy={y}
        r={r}
        style={{ fill: lifted ? 'var(--ink)' : 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.3 }}
      />
      <text
        x={x}
        y={y + 5}
        textAnchor="middle"
        style={{ font: '700 14px var(--mono)', fill: lifted ? 'var(--film)' : 'var(--ink)' }}
      >
        {n}
      </text>
    </g>
  );
}
