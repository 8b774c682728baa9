import { StateMark } from "../answer/StateMark";
import type { State } from "../answer/types";
import { ink } from "../theme/system";

/** Side of a state's mark [px]. */
const MARK = 18;

interface Props {
  name: string;
  crop: string | null;
  state: State | undefined;
  chosen: boolean;
  /** The outer ring of the block's outline [px]. */
  ring: { x: number; y: number }[];
}

/** A block's state, name and crop within its outline, as far as there is room for each. */
export function BlockLabel({ name, crop, state, chosen, ring }: Props) {
  const left = Math.min(...ring.map((p) => p.x));
  const right = Math.max(...ring.map((p) => p.x));
  const top = Math.min(...ring.map((p) => p.y));
  const foot = Math.max(...ring.map((p) => p.y));
  const named = right - left > name.length * 6.6;
  const tall = named ? 3 * MARK : MARK + 4;
  const marked = state !== undefined && right - left > MARK + 4 && foot - top > tall;
  // The mark stands above the name.
  const middle = (top + foot) / 2 + (marked && named ? MARK / 2 : 0);
  const markTop = named ? middle - MARK - 12 : middle - MARK / 2;
  return (
    <g pointerEvents="none" aria-hidden>
      {marked && (
        <g transform={`translate(${(left + right) / 2 - MARK / 2}, ${markTop})`}>
          <circle cx={MARK / 2} cy={MARK / 2} r={MARK / 2 + 2} fill={ink("sheet")} />
          <StateMark state={state} size={MARK} />
        </g>
      )}
      {named && (
        <text
          x={(left + right) / 2}
          y={middle}
          textAnchor="middle"
          fill={ink("ink")}
          style={{ fontSize: 12.5, fontWeight: chosen ? 700 : 400 }}
        >
          {name}
          {crop && right - left > crop.length * 6 && foot - top > 40 && (
            <tspan
              x={(left + right) / 2}
              dy={14}
              fill={ink("inkSoft")}
              style={{ fontSize: 10.5, fontWeight: 400 }}
            >
              {crop}
            </tspan>
          )}
        </text>
      )}
    </g>
  );
}
