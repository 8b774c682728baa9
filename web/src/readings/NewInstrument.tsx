import { Button, Field, Flex, Grid, Input, NativeSelect } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { measure, typed } from "../units/format";
import { useMakeInstrument, type Instrument } from "./queries";

const KINDS: { value: Instrument["kind"]; label: string }[] = [
  { value: "capacitance_probe", label: "Capacitance probe (water content)" },
  { value: "granular_matrix", label: "Granular matrix sensors (tension)" },
  { value: "tensiometer", label: "Tensiometers (tension)" },
];

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
  const parsed = depths.split(/[;\s]+|,\s*/).filter(Boolean);
  const depthsMm = parsed.map((d) => typed(d, units, "depth"));
  const unreadable = parsed.find((_, i) => depthsMm[i] === null);

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    if (unreadable) return;
    make.mutate(
      { label, kind, depths_mm: depthsMm.filter((d) => d !== null) },
      { onSuccess: made },
    );
  }

  return (
    <form onSubmit={submit}>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1.3fr 1.3fr" }} gap="3" maxW="820px">
        <Field.Root required>
          <Field.Label>Instrument's name</Field.Label>
          <Input size="sm" bg="sheet" value={label} onChange={(e) => setLabel(e.target.value)} />
          <Field.HelperText>as on its tag</Field.HelperText>
        </Field.Root>
        <Field.Root>
          <Field.Label>Kind</Field.Label>
          <NativeSelect.Root size="sm">
            <NativeSelect.Field
              bg="sheet"
              value={kind}
              onChange={(e) => setKind(e.currentTarget.value as Instrument["kind"])}
            >
              {KINDS.map((k) => (
                <option key={k.value} value={k.value}>
                  {k.label}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Field.Root>
        <Field.Root required invalid={Boolean(unreadable)}>
          <Field.Label>Depths, {measure(units, "depth").label}</Field.Label>
          <Input
            size="sm"
            bg="sheet"
            placeholder={units === "metric" ? "10 20 30 50" : "6 12 24 36"}
            value={depths}
            onChange={(e) => setDepths(e.target.value)}
          />
          <Field.HelperText>from the surface down, with spaces between</Field.HelperText>
          <Field.ErrorText>“{unreadable}” is not a depth.</Field.ErrorText>
        </Field.Root>
      </Grid>
      {make.error && <Notice error={make.error} />}
      <Flex gap="3" mt="3">
        <Button type="submit" size="sm" loading={make.isPending}>
          Add the instrument
        </Button>
        {cancel && (
          <Button size="sm" variant="ghost" onClick={cancel}>
            Cancel
          </Button>
        )}
      </Flex>
    </form>
  );
}
