import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { typed } from "../units/format";
import { percent } from "../water/way";
import { useChangeInstrument, type Detail } from "./queries";
import { t } from "./t";

/** "air = 12800, water = 37200" as names and figures; null when a line is no such pair. */
export function readConstants(text: string): Record<string, number> | null {
  const found: Record<string, number> = {};
  for (const part of text.split(/[;\n]+|,\s+/)) {
    if (part.trim() === "") continue;
    const [name, figure] = part.split("=").map((p) => p.trim());
    const value = Number((figure ?? "").replace(",", "."));
    if (!name || !figure || !Number.isFinite(value)) return null;
    found[name] = value;
  }
  return found;
}

export function writeConstants(constants: Record<string, number>): string {
  return Object.entries(constants)
    .map(([name, value]) => `${name} = ${value}`)
    .join("; ");
}

/** Serial, site and the maker's constants. */
export function Identity({ detail }: { detail: Detail }) {
  const { farm, may } = useSignedIn();
  const [editing, setEditing] = useState(false);
  const { health } = detail;
  return (
    <Box as="section" aria-label={t("instruments.details")} mb="6" fontSize="sm">
      <Heading as="h2" size="md">
        {t("instruments.details")}
      </Heading>
      {editing ? (
        <Edit detail={detail} slug={farm.slug} close={() => setEditing(false)} />
      ) : (
        <>
          <Text>
            {t("instruments.serialSite", {
              serial: health.serial || t("instruments.notEntered"),
              site: health.site || t("instruments.notDescribed"),
            })}
          </Text>
          {detail.passed && (
            <Text>
              {detail.pass_place === null
                ? t("instruments.itsPositionAlongTheMachinesPathIs")
                : t("instruments.atOfTheMachinesPathOverThe", {
                    percent: percent(detail.pass_place),
                  })}
            </Text>
          )}
          {Object.keys(detail.constants).length > 0 && (
            <Text>
              {t("instruments.manufacturersConstants", {
                writeConstants: writeConstants(detail.constants),
              })}
            </Text>
          )}
          <Text color="inkSoft">{t("instruments.knownErrors", { lies: detail.lies })}</Text>
          {may("set_up_ground") && (
            <LinkButton onClick={() => setEditing(true)}>{t("instruments.edit")}</LinkButton>
          )}
        </>
      )}
    </Box>
  );
}

function Edit({ detail, slug, close }: { detail: Detail; slug: string; close: () => void }) {
  const change = useChangeInstrument(slug, detail.health.id);
  const [label, setLabel] = useState(detail.health.label);
  const [serial, setSerial] = useState(detail.health.serial);
  const [site, setSite] = useState(detail.health.site);
  const [constants, setConstants] = useState(writeConstants(detail.constants));
  const [place, setPlace] = useState(detail.pass_place === null ? "" : percent(detail.pass_place));
  const share = typed(place, "metric", "water");
  const read = readConstants(constants);
  const problems = problemsOf(change.error);
  return (
    <Box mt="2" display="grid" gap="2">
      <Line
        label={t("instruments.name")}
        value={label}
        change={setLabel}
        error={problems["label"]}
      />
      <Line label={t("instruments.serialNumber")} value={serial} change={setSerial} />
      <Line
        label={t("instruments.site")}
        value={site}
        change={setSite}
        help={t("instruments.soThatAnyoneCanFindItRow")}
      />
      <Line
        label={t("instruments.manufacturersConstants2")}
        value={constants}
        change={setConstants}
        help={t("instruments.asAir12800Water37200")}
        error={read === null ? t("instruments.writeEachAsNameFigureWithA") : undefined}
      />
      {detail.passed && (
        <Line
          label={t("instruments.positionAlongTheMachinesPath")}
          unit="%"
          numeric
          value={place}
          change={setPlace}
          error={problems["pass_place"]}
          help={t("instruments.fromWherePassesBeginLeaveEmptyIf")}
        />
      )}
      {change.error && !problems["label"] && <Notice error={change.error} />}
      <Box>
        <Button
          size="sm"
          loading={change.isPending}
          disabled={read === null}
          onClick={() =>
            change.mutate(
              {
                label,
                serial,
                site,
                constants: read,
                pass_place: share === null ? null : share / 100,
              },
              { onSuccess: close },
            )
          }
        >
          {t("instruments.save")}
        </Button>
        <Button size="sm" variant="ghost" ms="2" onClick={close}>
          {t("instruments.cancel")}
        </Button>
      </Box>
    </Box>
  );
}
