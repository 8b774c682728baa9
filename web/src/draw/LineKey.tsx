import { ink } from "../theme/system";

interface Props {
  text: string;
  colour: string;
  dash?: string | undefined;
  strong?: boolean;
}

/** A stroke and what it stands for, in a line of such. */
export function LineKey({ text, colour, dash, strong }: Props) {
  return (
    <span style={{ marginRight: "12px", whiteSpace: "nowrap", fontWeight: strong ? 700 : 400 }}>
      <svg width="26" height="8" aria-hidden="true" style={{ display: "inline" }}>
        <line
          x1="0"
          x2="26"
          y1="4"
          y2="4"
          stroke={ink(colour)}
          strokeWidth={strong ? 2.8 : 1.4}
          strokeDasharray={dash}
        />
      </svg>{" "}
      {text}
    </span>
  );
}
