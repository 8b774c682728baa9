import { Box, Grid } from "@chakra-ui/react";
import { Choice, Line } from "../form/Labelled";
import { NumberLine } from "../form/NumberLine";
import { problemsOf } from "../form/problems";
import { Tick } from "../form/Tick";
import { CornerFields } from "./CornerFields";
import type { LayerReading } from "./queries";
import { t } from "./t";
import { KINDS } from "./words";

type Role = keyof NonNullable<LayerReading["columns"]> & string;

const ROLES: [Role, string, boolean][] = [
  ["east", t("siting.roleEast"), false],
  ["north", t("siting.roleNorth"), false],
  ["value", t("siting.roleValue"), false],
  ["moisture", t("siting.roleMoisture"), true],
  ["speed", t("siting.roleSpeed"), true],
  ["width", t("siting.roleWidth"), true],
  ["time", t("siting.roleTime"), true],
];
const UNITS = ["t/ha", "dt/ha", "kg/ha", "bu/ac", "lb/ac", "US ton/ac", "%"] as const;
const FLOWS = ["kg/s", "lb/s", "t/h"] as const;
const SPEEDS = ["m/s", "km/h", "mph"] as const;
const WIDTHS = ["m", "ft", "in"] as const;

interface Props {
  reading: LayerReading;
  headings: string[];
  projection: string;
  /** Whether the file says where it lies; a picture may not. */
  placed: boolean;
  change: (reading: LayerReading) => void;
  error: Error | null;
  fixed: boolean;
}

/** How a file is read: what it is of, which column is what, in which units and projection. */
export function ReadingFields({
  reading,
  headings,
  projection,
  placed,
  change,
  error,
  fixed,
}: Props) {
  const problems = problemsOf(error);
  const isYield = reading.kind === "yield";
  const set = (part: Partial<LayerReading>) => change({ ...reading, ...part });
  const columns = reading.columns ?? {};
  const shown = ROLES.filter(([, , ofYield]) => isYield || !ofYield);
  return (
    <Grid
      templateColumns={{ base: "1fr", sm: "1fr 1fr", md: "repeat(4, 1fr)" }}
      gap="3"
      alignItems="start"
    >
      <Choice
        label={t("siting.kind")}
        value={reading.kind}
        disabled={fixed}
        change={(kind) => set({ kind: kind as LayerReading["kind"] })}
      >
        {Object.entries(KINDS).map(([kind, words]) => (
          <option key={kind} value={kind}>
            {words}
          </option>
        ))}
      </Choice>
      <Line
        label={t("siting.name")}
        value={reading.name}
        disabled={fixed}
        change={(name) => set({ name })}
        error={problems["name"]}
      />
      {isYield && (
        <>
          <NumberLine
            label={t("siting.yearOfHarvest")}
            value={reading.year}
            disabled={fixed}
            change={(year) => set({ year })}
            error={problems["year"]}
          />
          <NumberLine
            label={t("siting.rainOfSeason")}
            value={reading.rain_mm}
            disabled={fixed}
            change={(rain_mm) => set({ rain_mm })}
            error={problems["rain_mm"]}
            measured="water"
          />
        </>
      )}
      {shown.map(([role, words]) => (
        <Choice
          key={role}
          label={words}
          value={columns[role] ?? ""}
          disabled={fixed}
          error={problems[`columns.${role}`]}
          change={(name) => {
            const { [role]: _, ...rest } = columns;
            set({ columns: name === "" ? rest : { ...rest, [role]: name } });
          }}
        >
          <option value="">{t("siting.noColumn")}</option>
          {headings.map((h) => (
            <option key={h} value={h}>
              {h}
            </option>
          ))}
        </Choice>
      ))}
      <Line
        label={t("siting.projection")}
        value={reading.projection ?? ""}
        placeholder={projection}
        disabled={fixed}
        change={(v) => set({ projection: v })}
        error={problems["projection"]}
        help={t("siting.projectionHelp")}
      />
      {isYield && (
        <>
          <Choice
            label={t("siting.unitOfYield")}
            value={reading.flow ? (reading.flow_unit ?? "kg/s") : (reading.unit ?? "t/ha")}
            disabled={fixed}
            change={(unit) =>
              FLOWS.includes(unit as (typeof FLOWS)[number])
                ? set({ flow: true, flow_unit: unit as (typeof FLOWS)[number] })
                : set({ flow: false, unit: unit as (typeof UNITS)[number] })
            }
          >
            {UNITS.map((u) => (
              <option key={u} value={u}>
                {u}
              </option>
            ))}
            {FLOWS.map((u) => (
              <option key={u} value={u}>
                {t("siting.flowOfCrop", { unit: u })}
              </option>
            ))}
          </Choice>
          {reading.unit === "bu/ac" && !reading.flow && (
            <NumberLine
              label={t("siting.bushel")}
              value={reading.bushel_lb}
              disabled={fixed}
              change={(bushel_lb) => set({ bushel_lb })}
              error={problems["bushel_lb"]}
              unit="lb"
            />
          )}
          {columns.speed && (
            <Choice
              label={t("siting.unitOfSpeed")}
              value={reading.speed_unit ?? "km/h"}
              disabled={fixed}
              change={(u) => set({ speed_unit: u as (typeof SPEEDS)[number] })}
            >
              {SPEEDS.map((u) => (
                <option key={u} value={u}>
                  {u}
                </option>
              ))}
            </Choice>
          )}
          {columns.width ? (
            <Choice
              label={t("siting.unitOfWidth")}
              value={reading.width_unit ?? "m"}
              disabled={fixed}
              change={(u) => set({ width_unit: u as (typeof WIDTHS)[number] })}
            >
              {WIDTHS.map((u) => (
                <option key={u} value={u}>
                  {u}
                </option>
              ))}
            </Choice>
          ) : (
            <NumberLine
              label={t("siting.widthOfAll")}
              value={reading.width_m}
              disabled={fixed}
              change={(width_m) => set({ width_m })}
              error={problems["width_m"]}
              measured="length"
            />
          )}
        </>
      )}
      {headings.some((h) => h.startsWith("band ")) && (
        <NumberLine
          label={t("siting.band")}
          value={reading.band ?? 1}
          disabled={fixed}
          change={(typed) => {
            const band = typed ?? 1;
            set({ band, columns: { ...columns, value: `band ${band}` } });
          }}
          error={problems["band"]}
          help={t("siting.bandHelp")}
        />
      )}
      {!placed && (
        <CornerFields
          corners={reading.corners ?? []}
          change={(corners) => set({ corners })}
          fixed={fixed}
          error={problems["corners"]}
        />
      )}
      {!fixed && placed && (
        <Box pt={{ sm: "8" }}>
          <Tick
            label={t("siting.latitudeFirst")}
            on={reading.swap_axes ?? false}
            change={(swap_axes) => set({ swap_axes })}
          />
        </Box>
      )}
    </Grid>
  );
}
