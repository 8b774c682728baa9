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
    <Box as="section" aria-label="Which one it is" mb="6" fontSize="sm">
      <Heading as="h2" size="md">
        Which one it is
      </Heading>
      {editing ? (
        <Edit detail={detail} slug={farm.slug} close={() => setEditing(false)} />
      ) : (
        <>
          <Text>
            Serial {health.serial || "not given"}. Site: {health.site || "not described"}.
          </Text>
          {detail.passed && (
            <Text>
              {detail.pass_place === null
                ? "Its place on the way of the machine is not known: water is credited as the block's mean."
                : `Stands at ${percent(detail.pass_place)} % of the way over the block.`}
            </Text>
          )}
          {Object.keys(detail.constants).length > 0 && (
            <Text>Maker's constants: {writeConstants(detail.constants)}</Text>
          )}
          <Text color="inkSoft">How it lies: {detail.lies}.</Text>
          {may("set_up_ground") && (
            <LinkButton onClick={() => setEditing(true)}>Change this</LinkButton>
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
      <Line label="Name" value={label} change={setLabel} error={problems["label"]} />
      <Line label="Serial number" value={serial} change={setSerial} />
      <Line
        label="Site"
        value={site}
        change={setSite}
        help="so that a stranger finds it: row, steps from the lane"
      />
      <Line
        label="Maker's constants"
        value={constants}
        change={setConstants}
        help="as air = 12800; water = 37200"
        error={read === null ? "Write each as name = figure, with a semicolon between." : undefined}
      />
      {detail.passed && (
        <Line
          label="Place on the way of the machine"
          unit="%"
          numeric
          value={place}
          change={setPlace}
          error={problems["pass_place"]}
          help="from where passes begin; leave empty if not known"
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
          Save
        </Button>
        <Button size="sm" variant="ghost" ms="2" onClick={close}>
          Cancel
        </Button>
      </Box>
    </Box>
  );
}
