import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import type { Network, SuppliedBlock } from "./queries";
import { t } from "./t";

interface Props {
  network: Network;
  blocks: SuppliedBlock[];
  save: (network: Network) => void;
  pending: boolean;
  error: unknown;
  close: () => void;
}

const HECTARE_M2 = 10_000;

/** Currency, what an hour's work costs, and what a crop's yield is worth. */
export function PricesSheet({ network, blocks, save, pending, error, close }: Props) {
  const { units } = useSignedIn();
  const area = measure(units, "area");
  // Of one unit of area on screen in hectares.
  const size = area.size / HECTARE_M2;
  const crops = [...new Map(blocks.flatMap((b) => (b.crop_key ? [[b.crop_key, b.crop]] : [])))];
  const [currency, setCurrency] = useState(network.currency ?? "");
  const [work, setWork] = useState(
    network.labour_price === null || network.labour_price === undefined
      ? ""
      : String(network.labour_price),
  );
  const [values, setValues] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      (network.crop_values ?? []).map((v) => [
        v.crop_key,
        String(Number((v.value_ha * size).toPrecision(6))),
      ]),
    ),
  );
  const [wrong, setWrong] = useState<string[]>([]);
  const send = () => {
    const typed = Object.entries(values).filter(([, text]) => text.trim() !== "");
    const bad = typed.filter(([, text]) => !(Number(text.replace(",", ".")) > 0)).map(([k]) => k);
    const price = work.trim() === "" ? null : Number(work.replace(",", "."));
    if (price !== null && !(price >= 0)) bad.push("work");
    setWrong(bad);
    if (bad.length > 0) return;
    save({
      ...network,
      currency: currency.trim(),
      labour_price: price,
      crop_values: typed.map(([crop_key, text]) => ({
        crop_key,
        value_ha: Number(text.replace(",", ".")) / size,
      })),
    });
  };
  return (
    <FormSheet
      title={t("supply.pricesAndValues")}
      close={close}
      save={send}
      words={t("supply.save")}
      pending={pending}
    >
      <Grid templateColumns="1fr 1fr" gap="3">
        <Line label={t("supply.currency")} value={currency} change={setCurrency} placeholder="€" />
        <Line
          label={t("supply.hourOfWork")}
          value={work}
          change={setWork}
          unit={`${currency}/h`}
          numeric
          error={wrong.includes("work") ? t("supply.enterThis") : undefined}
        />
      </Grid>
      <Text fontSize="sm" color="inkSoft" mt="4" mb="2">
        {t("supply.valueHelp")}
      </Text>
      <Grid gap="2">
        {crops.map(([crop, name]) => (
          <Line
            key={crop}
            label={name ?? crop}
            value={values[crop] ?? ""}
            change={(text) => setValues({ ...values, [crop]: text })}
            unit={`${currency}/${area.label}`}
            numeric
            error={wrong.includes(crop) ? t("supply.enterThis") : undefined}
          />
        ))}
      </Grid>
      {error !== null && error !== undefined && <Notice error={error} />}
    </FormSheet>
  );
}
