import { Box, Button, Grid, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FileButton } from "../form/FileButton";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { number, withUnit } from "../units/format";
import { useImportMap, type FarmMap, type ImportChoices } from "./queries";

/** Outlines from a file: shown as understood, put right, then saved all or none. */
export function ImportMap({ map, close }: { map: FarmMap; close: () => void }) {
  const { farm, units } = useSignedIn();
  const [choices, setChoices] = useState<Omit<ImportChoices, "file" | "dryRun">>({
    projection: "",
    latitudeFirst: false,
    nameProperty: "",
    likeBlock: "",
    takeArea: false,
  });
  const [file, setFile] = useState<File | null>(null);
  const look = useImportMap(farm.slug);
  const bring = useImportMap(farm.slug);

  function inspect(next: File | null, changed: typeof choices) {
    setFile(next);
    setChoices(changed);
    bring.reset();
    if (next) look.mutate({ ...changed, file: next, dryRun: true });
  }
  const set = (part: Partial<typeof choices>) => inspect(file, { ...choices, ...part });
  const found = look.data;
  const used = found?.lines.filter((l) => l.action !== "left out") ?? [];

  const footer = (
    <>
      <Button size="sm" variant="ghost" onClick={close}>
        {bring.data ? "Close" : "Cancel"}
      </Button>
      {!bring.data && (
        <Button
          size="sm"
          disabled={used.length === 0 || look.isPending}
          loading={bring.isPending}
          onClick={() => file && bring.mutate({ ...choices, file, dryRun: false })}
        >
          Import {used.length} {used.length === 1 ? "outline" : "outlines"}
        </Button>
      )}
    </>
  );
  return (
    <Sheet title="Import outlines" close={close} footer={footer} size="lg">
      <Text fontSize="sm" color="inkSoft" mb="3">
        GeoJSON, or a Shapefile zipped with its parts. Outlines go to the blocks of the same name;
        any projection is brought to longitude and latitude.
      </Text>
      <FileButton
        accept=".geojson,.json,.zip,application/geo+json"
        file={file}
        choose={(next) => inspect(next, choices)}
      />
      {file && (
        <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3" mt="3">
          <Line
            label="Projection"
            placeholder="EPSG number, if the file does not say"
            value={choices.projection}
            change={(projection) => set({ projection })}
          />
          <Choice
            label="Names are in"
            value={choices.nameProperty || (found?.name_property ?? "")}
            change={(nameProperty) => set({ nameProperty })}
          >
            {(found?.properties ?? []).map((p) => (
              <option key={p}>{p}</option>
            ))}
          </Choice>
          <Choice
            label="Outlines without a block"
            value={choices.likeBlock}
            change={(likeBlock) => set({ likeBlock })}
            help="a new block takes this one's soil, crop and equipment"
          >
            <option value="">leave out</option>
            {map.blocks.map((b) => (
              <option key={b.id} value={b.id}>
                make blocks like {b.name}
              </option>
            ))}
          </Choice>
          <Box alignSelf="center">
            <Tick
              label="Latitude comes first"
              on={choices.latitudeFirst}
              change={(latitudeFirst) => set({ latitudeFirst })}
            />
            <Tick
              label="Take the outlines' areas"
              on={choices.takeArea}
              change={(takeArea) => set({ takeArea })}
            />
          </Box>
        </Grid>
      )}
      <Box aria-live="polite" mt="3">
        {look.isPending && <Text color="inkSoft">Looking through it…</Text>}
        {look.error && <Notice error={look.error} />}
        {bring.error && <Notice error={bring.error} />}
        {bring.data && (
          <Text fontWeight="600" role="status">
            Imported {bring.data.lines.filter((l) => l.action !== "left out").length} outlines.
          </Text>
        )}
        {found && !look.error && !bring.data && (
          <>
            <Text fontSize="sm">Projection: {found.projection}</Text>
            <Box maxH="260px" overflowY="auto">
              <Table.Root size="sm" bg="transparent">
                <Table.Body>
                  {found.lines.map((l) => (
                    <Table.Row
                      key={l.row}
                      bg="transparent"
                      color={l.action === "left out" ? "inkSoft" : "ink"}
                    >
                      <Table.Cell px="0">{l.name}</Table.Cell>
                      <Table.Cell px="2">
                        {l.action === "outline"
                          ? "to its block"
                          : l.action === "new block"
                            ? "becomes a block"
                            : "no such block: left out"}
                      </Table.Cell>
                      <Table.Cell px="2" textAlign="end" whiteSpace="nowrap">
                        {withUnit(l.outline_m2, units, "area", 2)}
                      </Table.Cell>
                      <Table.Cell px="0" textAlign="end" whiteSpace="nowrap">
                        {l.stated_m2 !== null &&
                          `${l.outline_m2 >= l.stated_m2 ? "+" : "−"}${number(
                            Math.abs(l.outline_m2 / l.stated_m2 - 1) * 100,
                            1,
                          )} % of stated`}
                      </Table.Cell>
                    </Table.Row>
                  ))}
                </Table.Body>
              </Table.Root>
            </Box>
          </>
        )}
      </Box>
    </Sheet>
  );
}
