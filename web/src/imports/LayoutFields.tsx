import { Box, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { Choice, Line } from "../form/Labelled";
import type { Layout } from "./queries";
import { t } from "./t";

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
          label={t("imports.rowLayout")}
          value={layout.shape}
          disabled={fixed}
          change={(shape) => change({ ...layout, shape: shape as Layout["shape"] })}
        >
          <option value="wide">{t("imports.allSensors")}</option>
          <option value="long">{t("imports.oneReading")}</option>
        </Choice>
      </Box>
      {sheets.length > 0 ? (
        <Box w="150px">
          <Choice
            label={t("imports.sheet")}
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
            label={t("imports.betweenColumns")}
            value={layout.delimiter}
            disabled={fixed}
            change={(delimiter) =>
              change({ ...layout, delimiter: delimiter as Layout["delimiter"] })
            }
          >
            <option value=",">{t("imports.comma")}</option>
            <option value=";">{t("imports.semicolon")}</option>
            <option value={"\t"}>{t("imports.tab")}</option>
            <option value="|">{t("imports.bar")}</option>
            <option value=" ">{t("imports.blanks")}</option>
          </Choice>
        </Box>
      )}
      <Box w="120px">
        <Line
          label={t("imports.dataFromRow")}
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
          label={t("imports.decimalMark")}
          value={layout.decimal_comma ? "," : "."}
          disabled={fixed}
          change={(mark) => change({ ...layout, decimal_comma: mark === "," })}
        >
          <option value=".">{t("imports.point241")}</option>
          <option value=",">{t("imports.comma241")}</option>
        </Choice>
      </Box>
      <Box w="170px">
        <Choice
          label={t("imports.dates")}
          value={layout.time_order}
          disabled={fixed}
          change={(order) => change({ ...layout, time_order: order as Layout["time_order"] })}
        >
          <option value="ymd">{t("imports.yearMonthDay")}</option>
          <option value="dmy">{t("imports.dayMonthYear")}</option>
          <option value="mdy">{t("imports.monthDayYear")}</option>
          <option value="epoch_s">{t("imports.secondsSince1970")}</option>
          <option value="epoch_ms">{t("imports.millisecondsSince1970")}</option>
          <option value="serial">{t("imports.spreadsheetDayNumber")}</option>
        </Choice>
      </Box>
      <Box w="210px">
        <Choice
          label={t("imports.clock")}
          value={still ? "still" : layout.clock}
          disabled={fixed}
          error={problems["clock"]}
          change={(clock) => change({ ...layout, clock: clock === "still" ? "+01:00" : clock })}
        >
          <option value="farm">{t("imports.theFarms", { zone })}</option>
          <option value="utc">UTC</option>
          <option value="still">{t("imports.aFixedOffsetAllYear")}</option>
        </Choice>
      </Box>
      {still && (
        <Box w="110px">
          <Choice
            label={t("imports.offset")}
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
          label={t("imports.missingValueCodes")}
          placeholder={t("imports.n9999Err")}
          value={missing}
          disabled={fixed}
          help={t("imports.inAdditionToEmptyNanAnd9999")}
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
