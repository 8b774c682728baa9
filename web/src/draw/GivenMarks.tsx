import { ink } from "../theme/system";
import { waterShort, type UnitSystem } from "../units/format";
import { placeFigures } from "./placeFigures";

interface Props {
  /** Along x, rising [px]; gross depth [mm]. */
  given: { x: number; mm: number }[];
  now: number;
  units: UnitSystem;
}

/** Water given: a mark with its depth beside it, on one line over a drawing. */
export function GivenMarks({ given, now, units }: Props) {
  const marks = given.map(({ x, mm }) => ({ x, text: waterShort(mm, units).split(" ")[0] ?? "" }));
  const sides = placeFigures(marks, now);
  return (
    <g fill={ink("ink")} style={{ fontSize: 12 }}>
      {marks.map(({ x, text }, i) => (
        <g key={x} transform={`translate(${x} 0)`}>
          <path d="M-4 2 h8 l-4 7 z" />
          {sides[i] === "right" && (
            <text x={6} y={10}>
              {text}
            </text>
          )}
          {sides[i] === "left" && (
            <text x={-6} y={10} textAnchor="end">
              {text}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
