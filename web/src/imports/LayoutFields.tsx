import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { Choice, Line } from "../form/Labelled";
import type { Layout } from "./queries";

interface Props {
  layout: Layout;
  sheets: string[];
  zone: string;
  problems: Record<string, string>;
  change: (layout: Layout) => void;
  fixed: boolean;
}

const OFFSETS = Array.from({ length: 27 }, (_, k) => k - 12).map(
  (h) => `${h < 0 ? "-" : "+"}${String(Math.abs(h)).padStart(2, "0")}:00`,
);

/** How the whole file is written: its marks, its dates, its clock. */
export function LayoutFields({ layout, sheets, zone, problems, change, fixed }: Props) {
  const [first, setFirst] = useState(String(layout.data_from));
  const [missing, setMissing] = useState(layout.missing.join(", "));
  const still = layout.clock !== "farm" && layout.clock !== "utc";
  return (
    <Flex gap="3" wrap="wrap" align="start">
      <Box w="130px">
        <Choice
          label="Each row holds"
          value={layout.shape}
          disabled={fixed}
          change={(shape) => change({ ...layout, shape: shape as Layout["shape"] })}
        >
          <option value="wide">all sensors</option>
          <option value="long">one reading</option>
        </Choice>
      </Box>
      {sheets.length > 0 ? (
        <Box w="150px">
          <Choice
            label="Sheet"
            value={layout.sheet}
            disabled={fixed}
            error={problems["sheet"]}
            change={(sheet) => change({ ...layout, sheet })}
          >
            {sheets.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </Choice>
        </Box>
      ) : (
        <Box w="130px">
          <Choice
            label="Between columns"
            value={layout.delimiter}
            disabled={fixed}
            change={(delimiter) =>
              change({ ...layout, delimiter: delimiter as Layout["delimiter"] })
            }
          >
            <option value=",">comma</option>
            <option value=";">semicolon</option>
            <option value={"\t"}>tab</option>
            <option value="|">bar</option>
            <option value=" ">blanks</option>
          </Choice>
        </Box>
      )}
      <Box w="120px">
        <Line
          label="Data from row"
          numeric
          value={first}
          disabled={fixed}
          change={(text) => {
            setFirst(text);
            const row = Number(text);
            if (Number.isInteger(row) && row >= 1 && row <= 10_000)
              change({ ...layout, data_from: row });
          }}
        />
      </Box>
      <Box w="130px">
        <Choice
          label="Decimal mark"
          value={layout.decimal_comma ? "," : "."}
          disabled={fixed}
          change={(mark) => change({ ...layout, decimal_comma: mark === "," })}
        >
          <option value=".">point, 24.1</option>
          <option value=",">comma, 24,1</option>
        </Choice>
      </Box>
      <Box w="170px">
        <Choice
          label="Dates"
          value={layout.time_order}
          disabled={fixed}
          change={(order) => change({ ...layout, time_order: order as Layout["time_order"] })}
        >
          <option value="ymd">year, month, day</option>
          <option value="dmy">day, month, year</option>
          <option value="mdy">month, day, year</option>
          <option value="epoch_s">seconds since 1970</option>
          <option value="epoch_ms">milliseconds since 1970</option>
          <option value="serial">spreadsheet day number</option>
        </Choice>
      </Box>
      <Box w="210px">
        <Choice
          label="Clock"
          value={still ? "still" : layout.clock}
          disabled={fixed}
          error={problems["clock"]}
          change={(clock) => change({ ...layout, clock: clock === "still" ? "+01:00" : clock })}
        >
          <option value="farm">the farm&apos;s ({zone})</option>
          <option value="utc">UTC</option>
          <option value="still">a fixed offset all year</option>
        </Choice>
      </Box>
      {still && (
        <Box w="110px">
          <Choice
            label="Offset"
            value={layout.clock}
            disabled={fixed}
            change={(clock) => change({ ...layout, clock })}
          >
            {OFFSETS.map((o) => (
              <option key={o}>{o}</option>
            ))}
          </Choice>
        </Box>
      )}
      <Box w="170px">
        <Line
          label="No reading"
          placeholder="-9999, ERR"
          value={missing}
          disabled={fixed}
          help="Besides empty, NaN, --- and -9999."
          change={(text) => {
            setMissing(text);
            change({
              ...layout,
              missing: text
                .split(/[,;]\s*/)
                .map((m) => m.trim())
                .filter(Boolean)
                .slice(0, 20),
            });
          }}
        />
      </Box>
    </Flex>
  );
}
