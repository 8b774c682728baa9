import { ink } from "../theme/system";
import type { Schemas } from "../api/client";

type Drawing = Schemas["Drawing"];

/* Soil as it lies in the hand: what it does when squeezed, pressed out or let go. */
const PALM = "M6 44 C 14 56, 58 56, 66 44 L 66 50 C 58 62, 14 62, 6 50 Z";

const GRAINS = [
  [18, 40],
  [24, 36],
  [30, 41],
  [36, 37],
  [43, 41],
  [50, 38],
  [56, 41],
  [28, 30],
  [40, 29],
  [47, 33],
  [33, 24],
] as const;

export function FeelDrawing({ drawing }: { drawing: Drawing }) {
  const soil = ink("loam");
  const water = ink("water");
  const ball = drawing.startsWith("weak") || drawing.startsWith("ball");
  const ribbon = drawing.startsWith("ribbon");
  return (
    <svg viewBox="0 0 72 64" width="72" height="64" aria-hidden="true">
      <path d={PALM} fill={ink("bed")} stroke={ink("inkSoft")} strokeWidth="1" />
      {drawing === "loose" &&
        GRAINS.map(([x, y]) => <circle key={`${x}-${y}`} cx={x} cy={y} r="1.8" fill={soil} />)}
      {drawing === "crumbling" && (
        <>
          <path d="M22 43 L26 27 L36 24 L38 43 Z" fill={soil} />
          <path d="M41 43 L42 27 L51 31 L54 43 Z" fill={soil} />
          <circle cx="59" cy="42" r="2" fill={soil} />
          <circle cx="16" cy="42" r="2" fill={soil} />
        </>
      )}
      {ball && (
        <>
          <circle cx="36" cy="30" r="15" fill={soil} opacity={drawing === "weak_ball" ? 0.75 : 1} />
          <path d="M26 24 q4 3 8 0 M26 31 q4 3 8 0" fill="none" stroke={ink("sheet")} />
          {drawing === "weak_ball" && <circle cx="57" cy="42" r="2" fill={soil} />}
        </>
      )}
      {ribbon && (
        <>
          <circle cx="24" cy="34" r="10" fill={soil} />
          <path
            d={
              drawing === "ribbon" ? "M30 30 C 44 20, 52 30, 66 18" : "M30 30 C 36 26, 40 28, 44 24"
            }
            fill="none"
            stroke={soil}
            strokeWidth="6"
            strokeLinecap="round"
          />
        </>
      )}
      {(drawing === "ball_stain" || drawing === "ribbon") && (
        <path d="M20 50 q16 6 32 0" fill="none" stroke={water} strokeWidth="2" />
      )}
      {drawing === "ball_wet" && (
        <>
          <path d="M14 49 q22 9 44 0" fill="none" stroke={water} strokeWidth="4" />
          <path d="M44 20 q4 6 0 9 q-4 -3 0 -9" fill={water} />
        </>
      )}
    </svg>
  );
}
