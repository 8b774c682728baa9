import { ink } from "../theme/system";
import type { State } from "./types";

/** A shape for each state, so that none is told by colour alone. */
export function StateMark({ state, size = 20 }: { state: State; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 20 20" aria-hidden focusable="false">
      {SHAPES[state]}
    </svg>
  );
}

const SHAPES: Record<State, React.ReactNode> = {
  // A level line in a full round: nothing to do.
  ok: <circle cx="10" cy="10" r="5.5" fill="none" stroke={ink("water")} strokeWidth="2.2" />,
  // Half run down.
  irrigate_soon: (
    <g stroke={ink("straw")} strokeWidth="2" strokeLinejoin="round">
      <path d="M10 3 L17 10 L10 17 L3 10 Z" fill="none" />
      <path d="M3 10 L17 10 L10 17 Z" fill={ink("straw")} />
    </g>
  ),
  // A spout: open it.
  irrigate_now: <path d="M3 5 H17 L10 17 Z" fill={ink("water")} />,
  // A crack across.
  below_refill: (
    <path
      d="M2 10 H6 L8.5 4 L12 16 L14 10 H18"
      fill="none"
      stroke={ink("rust")}
      strokeWidth="2.4"
      strokeLinejoin="round"
    />
  ),
  above_full: (
    <g fill="none" stroke={ink("water")} strokeWidth="2.2" strokeLinecap="round">
      <path d="M2 7 q4 -4 8 0 t8 0" />
      <path d="M2 13 q4 -4 8 0 t8 0" />
    </g>
  ),
  // A gate shut across the furrow.
  on_hold: (
    <g stroke={ink("loam")} strokeWidth="2.4" strokeLinecap="round">
      <path d="M6 3.5 V16.5" />
      <path d="M14 3.5 V16.5" />
      <path d="M6 10 H14" />
    </g>
  ),
  // A sheaf, tied.
  finished: (
    <g stroke={ink("loam")} strokeWidth="2.2" strokeLinecap="round" fill="none">
      <path d="M4 4 L10 11 L16 4" />
      <path d="M10 3 V17" />
      <path d="M6.5 11.5 H13.5" />
    </g>
  ),
  no_reliable_data: (
    <g fill={ink("inkSoft")}>
      <circle cx="4" cy="10" r="1.8" />
      <circle cx="10" cy="10" r="1.8" />
      <circle cx="16" cy="10" r="1.8" />
    </g>
  ),
};
