import { Button, Field, Flex, Grid, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Notice } from "../app/Notice";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { Choice, Line } from "../form/Labelled";
import { figure, measure, typed } from "../units/format";
import { useKinds } from "../instruments/queries";
import { quantityName } from "../instruments/words";
import { useMakeInstrument, type Instrument } from "./queries";
import { t } from "./t";

interface Props {
  blockId: number;
  made: (instrument: Instrument) => void;
  cancel?: () => void;
}

/** One instrument and the depths it reads. */
export function NewInstrument({ blockId, made, cancel }: Props) {
  const { farm, units } = useSignedIn();
  const make = useMakeInstrument(farm.slug, blockId);
  const [label, setLabel] = useState("");
  const [kind, setKind] = useState<Instrument["kind"]>("capacitance_probe");
  const [depths, setDepths] = useState("");
  const [quantity, setQuantity] = useState<Instrument["quantity"] | "">("");
  const [serial, setSerial] = useState("");
  const [thermometer, setThermometer] = useState(false);
  const kinds = useKinds();
  const facts = kinds.data?.find((k) => k.kind === kind);
  const usual = facts?.usual_depths_mm.map((d) => figure(d, units, "depth")).join(" ");
  const parsed = depths.split(/[;\s]+|,\s*/).filter(Boolean);
  const depthsMm = parsed.map((d) => typed(d, units, "depth"));
  const rawOnes = facts?.raw.filter((q) => q !== "temperature") ?? [];
  const mayBeWarm = facts?.raw.includes("temperature") ?? false;
  const unreadable = parsed.find((_, i) => depthsMm[i] === null);

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    if (unreadable) return;
    make.mutate(
      {
        label,
        kind,
        depths_mm: facts?.has_depths ? depthsMm.filter((d) => d !== null) : [],
        quantity: quantity || null,
        thermometer: thermometer && mayBeWarm,
        serial,
        site: "",
      },
      { onSuccess: made },
    );
  }

  return (
    <form onSubmit={submit}>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1.3fr 1.3fr" }} gap="3" maxW="820px">
        <Field.Root required>
          <Field.Label>{t("readings.instrumentsName")}</Field.Label>
          <Input size="sm" bg="sheet" value={label} onChange={(e) => setLabel(e.target.value)} />
          <Field.HelperText>{t("readings.asOnItsTag")}</Field.HelperText>
        </Field.Root>
        <Field.Root>
          <Field.Label>{t("readings.kind")}</Field.Label>
          <NativeSelect.Root size="sm">
            <NativeSelect.Field
              bg="sheet"
              value={kind}
              onChange={(e) => {
                setKind(e.currentTarget.value as Instrument["kind"]);
                setQuantity("");
              }}
            >
              {kinds.data?.map((k) => (
                <option key={k.kind} value={k.kind}>
                  {k.name} ({quantityName(k.quantity)})
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Field.Root>
        {facts?.has_depths !== false && (
          <Field.Root required invalid={Boolean(unreadable)}>
            <Field.Label>
              {t("readings.depths", { label: measure(units, "depth").label })}
            </Field.Label>
            <Input
              size="sm"
              bg="sheet"
              placeholder={usual}
              value={depths}
              onChange={(e) => setDepths(e.target.value)}
            />
            <Field.HelperText>{t("readings.fromTheSurfaceDownWithSpacesBetween")}</Field.HelperText>
            <Field.ErrorText>
              “{unreadable}
              {t("readings.isNotADepth")}
            </Field.ErrorText>
          </Field.Root>
        )}
        {facts && rawOnes.length > 0 && (
          <Choice
            label={t("readings.itRecords")}
            value={quantity}
            change={(v) => setQuantity(v as Instrument["quantity"] | "")}
            help={t("readings.rawReadingsNeedACalibrationCurve")}
          >
            <option value="">{quantityName(facts.quantity)}</option>
            {rawOnes.map((q) => (
              <option key={q} value={q}>
                {t("readings.raw", { quantityName: quantityName(q) })}
              </option>
            ))}
          </Choice>
        )}
        <Line label={t("readings.serialNumber")} value={serial} change={setSerial} />
        {mayBeWarm && (
          <Flex align="end" pb="2">
            <Tick
              label={t("readings.readsSoilTemperatureAtEachDepth")}
              on={thermometer}
              change={setThermometer}
            />
          </Flex>
        )}
      </Grid>
      {facts && (
        <Text fontSize="sm" color="inkSoft" mt="2" maxW="80ch">
          {t("readings.knownErrors", { lies: facts.lies })}
        </Text>
      )}
      {make.error && <Notice error={make.error} />}
      <Flex gap="3" mt="3">
        <Button type="submit" size="sm" loading={make.isPending}>
          {t("readings.addInstrument")}
        </Button>
        {cancel && (
          <Button size="sm" variant="ghost" onClick={cancel}>
            {t("readings.cancel")}
          </Button>
        )}
      </Flex>
    </form>
  );
}
