import { Grid, Input, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import vocabulary from "../../../server/base/vocabulary.json";
import { figure, forForm, measure, typed } from "../units/format";
import {
  useRemoveSteering,
  useSaveSteering,
  type LeafData,
  type Steering,
  type SteeringIn,
} from "./queries";
import { t } from "./t";

const STRATEGIES = Object.keys(vocabulary.strategy) as Steering["strategy"][];
const SIDES = Object.keys(vocabulary.side) as NonNullable<Steering["side"]>[];
const ZONE_LINES = 4;
const USUAL_SHARE = "50";

interface Form {
  strategy: Steering["strategy"];
  share: string;
  since: string;
  application: string;
  side: NonNullable<Steering["side"]> | "";
  sideSince: string;
  sideDays: string;
}

interface Props {
  block: { id: number; name: string };
  leaf: LeafData;
  close: () => void;
}

const percent = (share: number | null | undefined) =>
  share === null || share === undefined ? "" : String(Number((share * 100).toPrecision(4)));

function plain(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() === "" || !Number.isFinite(value) ? null : value;
}

/** How a block is steered by its leaves: product, strategy, own bands, zones, sides. */
export function SteeringSheet({ block, leaf, close }: Props) {
  const { farm, units } = useSignedIn();
  const save = useSaveSteering(farm.slug, block.id);
  const remove = useRemoveSteering(farm.slug, block.id);
  const was = leaf.steering;
  const suited = leaf.products.filter((p) => p.suits);
  const offered = suited.length > 0 ? suited : leaf.products;
  const [product, setProduct] = useState(was?.product ?? offered[0]!.product);
  const bands = leaf.products.find((p) => p.product === product)!.bands;
  const [own, setOwn] = useState<Record<string, { upper: string; lower: string }>>(() =>
    Object.fromEntries(
      (was?.bands ?? [])
        .filter((b) => b.upper_mpa !== b.product_upper_mpa || b.lower_mpa !== b.product_lower_mpa)
        .map((b) => [
          b.phase,
          {
            upper: forForm(b.upper_mpa, units, "stem"),
            lower: forForm(b.lower_mpa, units, "stem"),
          },
        ]),
    ),
  );
  const [zones, setZones] = useState(() =>
    Array.from({ length: ZONE_LINES }, (_, k) => ({
      name: was?.zones[k]?.name ?? "",
      share: percent(was?.zones[k]?.share),
    })),
  );
  const [form, setForm] = useState<Form>({
    strategy: was?.strategy ?? "band",
    share: percent(was?.use_share) || USUAL_SHARE,
    since: was?.since ?? "",
    application: forForm(was?.application_mm, units, "water"),
    side: was?.side ?? "",
    sideSince: was?.side_since ?? "",
    sideDays: was?.side_days ? String(was.side_days) : "14",
  });
  const set = (more: Partial<typeof form>) => setForm((now) => ({ ...now, ...more }));
  const problems = problemsOf(save.error);

  function body(): SteeringIn {
    const edges = Object.entries(own).filter(([, e]) => e.upper.trim() || e.lower.trim());
    return {
      product,
      strategy: form.strategy,
      own: edges.map(([phase, e]) => ({
        phase: phase as SteeringIn["own"][number]["phase"],
        upper_mpa: -Math.abs(typed(e.upper.replace("−", "-"), units, "stem") ?? 0),
        lower_mpa: -Math.abs(typed(e.lower.replace("−", "-"), units, "stem") ?? 0),
      })),
      zones: zones
        .filter((z) => z.name.trim())
        .map((z) => ({ name: z.name, share: plain(z.share) ?? 1 })),
      use_share: form.strategy === "share" ? (plain(form.share) ?? 0) / 100 : null,
      since: form.strategy === "share" ? form.since || null : null,
      application_mm:
        form.strategy === "share"
          ? typed(form.application, units, "water", was?.application_mm ?? null)
          : null,
      side: form.side === "" ? null : form.side,
      side_since: form.side === "" ? null : form.sideSince || null,
      side_days: form.side === "" ? null : (plain(form.sideDays) ?? 0),
    };
  }

  return (
    <FormSheet
      title={t("leaf.steerByLeaf", { name: block.name })}
      close={close}
      save={() => save.mutate(body(), { onSuccess: close })}
      words={t("leaf.save")}
      pending={save.isPending}
      other={
        was && (
          <RemoveButton
            words={t("leaf.stopSteering")}
            pending={remove.isPending}
            press={() => remove.mutate(undefined, { onSuccess: close })}
          />
        )
      }
    >
      <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }}>
        <Choice
          label={t("leaf.product")}
          value={product}
          change={(p) => {
            setProduct(p as Steering["product"]);
            setOwn({});
          }}
        >
          {leaf.products.map((p) => (
            <option key={p.product} value={p.product}>
              {t(`product.${p.product}`)}
            </option>
          ))}
        </Choice>
        <Choice
          label={t("leaf.strategy")}
          value={form.strategy}
          change={(s) => set({ strategy: s as Steering["strategy"] })}
        >
          {STRATEGIES.map((s) => (
            <option key={s} value={s}>
              {t(`strategy.${s}`)}
            </option>
          ))}
        </Choice>
        {form.strategy === "share" && (
          <>
            <Line
              label={t("leaf.shareOfEtcLabel")}
              value={form.share}
              change={(share) => set({ share })}
              unit="%"
              numeric
              error={problems["use_share"]}
            />
            <DateLine
              label={t("leaf.countedFrom")}
              value={form.since}
              change={(since) => set({ since })}
              error={problems["since"]}
              help={t("leaf.countedFromHelp")}
            />
            <Line
              label={t("leaf.atATime")}
              value={form.application}
              change={(application) => set({ application })}
              unit={measure(units, "water").label}
              numeric
              error={problems["application_mm"]}
              help={t("leaf.atATimeHelp")}
            />
          </>
        )}
        <Choice
          label={t("leaf.sides")}
          value={form.side}
          change={(side) => set({ side: side as typeof form.side })}
        >
          <option value="">{t("leaf.bothSides")}</option>
          {SIDES.map((s) => (
            <option key={s} value={s}>
              {t("leaf.beginWith", { side: t(`side.${s}`) })}
            </option>
          ))}
        </Choice>
        {form.side !== "" && (
          <>
            <DateLine
              label={t("leaf.sideSince")}
              value={form.sideSince}
              change={(sideSince) => set({ sideSince })}
              error={problems["side_since"]}
            />
            <Line
              label={t("leaf.sideDays")}
              value={form.sideDays}
              change={(sideDays) => set({ sideDays })}
              unit={t("leaf.days")}
              numeric
              error={problems["side_days"]}
            />
          </>
        )}
      </Grid>
      <Text fontWeight="700" mt="4">
        {t("leaf.bands", { unit: measure(units, "stem").label })}
      </Text>
      <Text fontSize="sm" color="inkSoft">
        {t("leaf.bandsHelp")}
      </Text>
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("leaf.phase")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("leaf.upperEdge")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("leaf.lowerEdge")}</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {bands.map((b) => (
            <Table.Row key={b.phase} bg="transparent">
              <Table.Cell px="0">
                {t(`leaf_phase.${b.phase}`)}
                {problems[`own.${b.phase}`] && (
                  <Text fontSize="xs" color="rust">
                    {problems[`own.${b.phase}`]}
                  </Text>
                )}
              </Table.Cell>
              {(["upper", "lower"] as const).map((edge) => (
                <Table.Cell key={edge} px="1">
                  <Input
                    size="xs"
                    bg="sheet"
                    inputMode="decimal"
                    aria-label={
                      edge === "upper"
                        ? t("leaf.upperEdgeOf", {
                            phase: t(`leaf_phase.${b.phase}`),
                          })
                        : t("leaf.lowerEdgeOf", {
                            phase: t(`leaf_phase.${b.phase}`),
                          })
                    }
                    placeholder={figure(
                      edge === "upper" ? b.product_upper_mpa : b.product_lower_mpa,
                      units,
                      "stem",
                    )}
                    value={own[b.phase]?.[edge] ?? ""}
                    onChange={(e) => {
                      const value = e.target.value;
                      setOwn((now) => {
                        const shown = {
                          upper: forForm(b.product_upper_mpa, units, "stem"),
                          lower: forForm(b.product_lower_mpa, units, "stem"),
                        };
                        return { ...now, [b.phase]: { ...(now[b.phase] ?? shown), [edge]: value } };
                      });
                    }}
                  />
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Text fontWeight="700" mt="4">
        {t("leaf.zones")}
      </Text>
      <Text fontSize="sm" color="inkSoft">
        {t("leaf.zonesHelp")}
      </Text>
      {zones.map((z, k) => (
        <Grid key={k} gap="3" templateColumns="2fr 1fr" mt="1">
          <Input
            size="xs"
            bg="sheet"
            aria-label={t("leaf.zoneName", { place: k + 1 })}
            value={z.name}
            onChange={(e) => {
              const name = e.target.value;
              setZones((all) => all.map((one, j) => (j === k ? { ...one, name } : one)));
            }}
          />
          <Input
            size="xs"
            bg="sheet"
            inputMode="decimal"
            placeholder="%"
            aria-label={t("leaf.zoneShare", { place: k + 1 })}
            value={z.share}
            onChange={(e) => {
              const share = e.target.value;
              setZones((all) => all.map((one, j) => (j === k ? { ...one, share } : one)));
            }}
          />
        </Grid>
      ))}
      {problems["zones"] && (
        <Text fontSize="xs" color="rust">
          {problems["zones"]}
        </Text>
      )}
      {save.error && <Notice error={save.error} />}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
