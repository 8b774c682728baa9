import { Box, Button, Checkbox, Flex, Heading, SegmentGroup, Tabs, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useBlock, useMarkChannel, type BlockData } from "../block/queries";
import { useSignedIn } from "../session/context";
import { UploadFile } from "../imports/UploadFile";
import { FarmTime } from "../time/farmTime";
import { FeelCheck } from "./FeelCheck";
import { depthWords } from "./depthWords";
import { HandReadings } from "./HandReadings";
import { NewInstrument } from "./NewInstrument";
import type { Instrument } from "./queries";
import { t } from "./t";

export function ReadingsPage() {
  const { block: id } = useParams();
  const { farm } = useSignedIn();
  const block = useBlock(farm.slug, Number(id));
  if (block.isPending) return <Loading what={t("readings.loadingTheBlock")} />;
  if (block.error) return <Notice error={block.error} retry={() => void block.refetch()} />;
  return <Readings block={block.data} />;
}

function Readings({ block }: { block: BlockData }) {
  const { farm, may } = useSignedIn();
  const time = useMemo(() => new FarmTime(block.now, block.time_zone), [block]);
  const [chosen, setChosen] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  const instrument = block.instruments.find((i) => i.id === chosen) ?? block.instruments[0] ?? null;
  const setUp = may("set_up_ground");

  if (!may("record_readings")) {
    return (
      <Text p="6">
        {t("readings.aCantRecordReadings", { role: farm.role })}{" "}
        <Link to={`/${farm.slug}/blocks/${block.id}`}>
          {t("readings.backTo", { name: block.name })}
        </Link>
      </Text>
    );
  }
  return (
    <Box maxW="1000px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${block.id}`}>← {block.name}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700" mb="3">
        {t("readings.readingsFor", { name: block.name })}
      </Heading>
      <Flex gap="3" wrap="wrap" align="center" mb="4">
        {block.instruments.length > 0 && (
          <SegmentGroup.Root
            size="sm"
            value={String(instrument?.id)}
            onValueChange={(e) => setChosen(Number(e.value))}
          >
            <SegmentGroup.Indicator />
            <SegmentGroup.Items
              items={block.instruments.map((i) => ({ value: String(i.id), label: i.label }))}
            />
          </SegmentGroup.Root>
        )}
        {setUp && block.instruments.length > 0 && !adding && (
          <Button size="sm" variant="outline" onClick={() => setAdding(true)}>
            {t("readings.addAnInstrument")}
          </Button>
        )}
      </Flex>
      {!instrument && !setUp && <Text>{t("readings.thereIsNoInstrumentHereYetAsk")}</Text>}
      {setUp && (adding || !instrument) && (
        <Box mb="6">
          <Text mb="2" color="inkSoft">
            {instrument
              ? t("readings.anotherInstrumentInThisBlock")
              : t("readings.thereIsNoInstrumentHereYetAdd")}
          </Text>
          <NewInstrument
            blockId={block.id}
            made={(made) => {
              setAdding(false);
              setChosen(made.id);
            }}
            {...(instrument ? { cancel: () => setAdding(false) } : {})}
          />
        </Box>
      )}
      {instrument && <InstrumentReadings key={instrument.id} instrument={instrument} time={time} />}
    </Box>
  );
}

function InstrumentReadings({ instrument, time }: { instrument: Instrument; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  const mark = useMarkChannel(farm.slug);
  const felt = instrument.kind === "feel_check";
  const byHandFirst = instrument.kind === "tensiometer" || instrument.kind === "rice_tube";
  return (
    <>
      <Tabs.Root defaultValue={felt ? "feel" : byHandFirst ? "hand" : "file"} variant="line">
        <Tabs.List>
          {felt && <Tabs.Trigger value="feel">{t("readings.byFeel")}</Tabs.Trigger>}
          <Tabs.Trigger value="file">{t("readings.fromAFile")}</Tabs.Trigger>
          <Tabs.Trigger value="hand">{t("readings.byHand")}</Tabs.Trigger>
        </Tabs.List>
        {felt && (
          <Tabs.Content value="feel">
            <FeelCheck instrument={instrument} time={time} />
          </Tabs.Content>
        )}
        <Tabs.Content value="file">
          <Text color="inkSoft" fontSize="sm" mb="3" maxW="76ch">
            {t("readings.aTableFromTheLoggerOfCsv", { label: instrument.label })}
          </Text>
          <UploadFile instrument={instrument.id} />
        </Tabs.Content>
        <Tabs.Content value="hand">
          <HandReadings instrument={instrument} time={time} />
        </Tabs.Content>
      </Tabs.Root>
      <Box as="section" mt="8">
        <Heading as="h2" size="md">
          {t("readings.excludedSensors")}
        </Heading>
        <Text color="inkSoft" fontSize="sm" mb="2">
          {t("readings.aMarkedSensorKeepsItsReadingsBut")}
        </Text>
        <Flex gap="4" wrap="wrap">
          {instrument.channels.map((c) => (
            <Checkbox.Root
              key={c.id}
              size="sm"
              checked={c.suspect}
              onCheckedChange={(e) => mark.mutate({ id: c.id, suspect: e.checked === true })}
            >
              <Checkbox.HiddenInput />
              <Checkbox.Control />
              <Checkbox.Label>
                {depthWords(c.depth_mm, units) || t("readings.reading")}
              </Checkbox.Label>
            </Checkbox.Root>
          ))}
        </Flex>
        {mark.error && <Notice error={mark.error} />}
      </Box>
    </>
  );
}
