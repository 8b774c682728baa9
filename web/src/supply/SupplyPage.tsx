import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { ConnectionSheet } from "./ConnectionSheet";
import type { PartKind } from "./partForm";
import { PartSheet } from "./PartSheet";
import { PricesSheet } from "./PricesSheet";
import {
  useChangeSupply,
  useReadSupply,
  useSupply,
  type Network,
  type SuppliedBlock,
  type Supply,
} from "./queries";
import { Remarks } from "./Remarks";
import { SeasonWater } from "./SeasonWater";
import { BlockTable, PriceLines, SourceTable, SmallTable, WindLines } from "./SupplyTables";
import { SupplyPlan } from "./SupplyPlan";
import { TariffSheet } from "./TariffSheet";
import { WindSheet } from "./WindSheet";
import { t } from "./t";

type PartValue = Record<string, unknown>;
type Asked =
  | { kind: PartKind; at: number | null; named?: string }
  | { kind: "tariffs"; at: number | null }
  | { kind: "block"; block: SuppliedBlock }
  | { kind: "prices" }
  | { kind: "wind" }
  | null;

/** Where the water comes from and what blocks share. */
export function SupplyPage() {
  const { farm } = useSignedIn();
  const supply = useSupply(farm.slug);
  if (supply.error) return <Notice error={supply.error} retry={() => void supply.refetch()} />;
  if (!supply.data) return <Loading what={t("supply.loading")} />;
  return <Described supply={supply.data} />;
}

function Described({ supply }: { supply: Supply }) {
  const { farm, may } = useSignedIn();
  const change = useChangeSupply(farm.slug);
  const read = useReadSupply(farm.slug);
  const [asked, setAsked] = useState<Asked>(null);
  const [file, setFile] = useState<File | null>(null);
  const { network, blocks } = supply;
  const sets = may("set_up_ground");
  const close = () => {
    change.reset();
    setAsked(null);
  };
  const save = (next: Network) =>
    change.mutate({ version: supply.version, network: next }, { onSuccess: close });
  const problems = (part: string, at: number) => {
    const path = `${part}.${at}.`;
    return Object.fromEntries(
      Object.entries(problemsOf(change.error))
        .filter(([field]) => field.startsWith(path))
        .map(([field, message]) => [field.slice(path.length), message]),
    );
  };
  const ask = sets ? setAsked : undefined;
  return (
    <Box maxW="1240px">
      <Text color="inkSoft" fontSize="sm" maxW="80ch">
        {t("supply.intro")}
      </Text>
      <Remarks supply={supply} />
      <SourceTable supply={supply} open={ask && ((at) => ask({ kind: "sources", at }))} />
      <Flex columnGap="7" wrap="wrap">
        <SmallTable
          title={t("supply.mains")}
          empty={t("supply.noMains")}
          kind="mains"
          network={network}
          open={ask && ((at) => ask({ kind: "mains", at }))}
          add={t("supply.addMain")}
        />
        <SmallTable
          title={t("supply.groups")}
          empty={t("supply.noGroups")}
          kind="groups"
          network={network}
          open={ask && ((at) => ask({ kind: "groups", at }))}
          add={t("supply.addGroup")}
        />
        <SmallTable
          title={t("supply.machines")}
          empty={t("supply.noMachines")}
          kind="machines"
          network={network}
          open={ask && ((at) => ask({ kind: "machines", at }))}
          add={t("supply.addMachine")}
        />
        <SmallTable
          title={t("supply.people")}
          empty={t("supply.noPeople")}
          kind="workers"
          network={network}
          open={ask && ((at) => ask({ kind: "workers", at }))}
          add={t("supply.addPerson")}
        />
        <SmallTable
          title={t("supply.tariffs")}
          empty={t("supply.noTariffs")}
          kind="tariffs"
          network={network}
          open={ask && ((at) => ask({ kind: "tariffs", at }))}
          add={t("supply.addTariff")}
        />
      </Flex>
      <PriceLines supply={supply} open={ask && (() => ask({ kind: "prices" }))} />
      {supply.wind_systems.length > 0 && (
        <WindLines supply={supply} open={ask && (() => ask({ kind: "wind" }))} />
      )}
      <BlockTable supply={supply} open={ask && ((block) => ask({ kind: "block", block }))} />
      <SupplyPlan
        supply={supply}
        openBlock={ask && ((block) => ask({ kind: "block", block }))}
        openSource={ask && ((at, named) => ask({ kind: "sources", at, named }))}
      />
      <SeasonWater />
      {sets && (
        <Box as="section" mt="6" aria-labelledby="import-supply">
          <Heading as="h2" id="import-supply" size="lg">
            {t("supply.importFile")}
          </Heading>
          <Text fontSize="sm" color="inkSoft" maxW="80ch" mb="2">
            {t("supply.importHelp")}
          </Text>
          <FileButton
            accept=".csv,text/csv"
            file={file}
            sample="water-supply.csv"
            choose={(chosen) => {
              setFile(chosen);
              read.mutate(chosen);
            }}
          />
          {read.error && <Notice error={read.error} />}
          {read.data && file && (
            <Flex gap="3" align="center" mt="2" wrap="wrap">
              <Text fontSize="sm">
                {t("supply.importPreview", {
                  sources: read.data.network.sources?.length ?? 0,
                  mains: read.data.network.mains?.length ?? 0,
                  groups: read.data.network.groups?.length ?? 0,
                  machines: read.data.network.machines?.length ?? 0,
                  people: read.data.network.workers?.length ?? 0,
                  blocks: read.data.network.connections?.length ?? 0,
                })}
              </Text>
              <Button
                size="sm"
                loading={change.isPending}
                onClick={() =>
                  change.mutate(
                    { version: supply.version, network: read.data.network },
                    { onSuccess: () => setFile(null) },
                  )
                }
              >
                {t("supply.importNow")}
              </Button>
            </Flex>
          )}
          {asked === null && change.error && <Notice error={change.error} />}
        </Box>
      )}
      {asked && "at" in asked && asked.kind === "tariffs" && (
        <TariffSheet
          key={`tariff${asked.at}`}
          tariff={asked.at === null ? null : (network.tariffs?.[asked.at] ?? null)}
          currency={network.currency ?? ""}
          save={(tariff) => save({ ...network, tariffs: put(network.tariffs, asked.at, tariff) })}
          remove={
            asked.at === null
              ? null
              : () => save({ ...network, tariffs: without(network.tariffs, asked.at) })
          }
          pending={change.isPending}
          error={change.error}
          problems={problems("tariffs", asked.at ?? network.tariffs?.length ?? 0)}
          close={close}
        />
      )}
      {asked && "at" in asked && asked.kind !== "tariffs" && (
        <PartSheet
          key={`${asked.kind}${asked.at}`}
          kind={asked.kind}
          part={asked.at === null ? null : partAt(network, asked.kind, asked.at)}
          title={partTitle(network, asked.kind, asked.at)}
          named={asked.named}
          tariffs={(network.tariffs ?? []).map((one) => one.name)}
          save={(value) => save(withPart(network, asked.kind, asked.at, value))}
          remove={
            asked.at === null ? null : () => save(withPart(network, asked.kind, asked.at, null))
          }
          pending={change.isPending}
          error={change.error}
          problems={problems(asked.kind, asked.at ?? network[asked.kind]?.length ?? 0)}
          close={close}
        />
      )}
      {asked?.kind === "block" && (
        <ConnectionSheet
          key={asked.block.id}
          block={asked.block}
          network={network}
          save={(made) =>
            save({
              ...network,
              connections: [
                ...(network.connections ?? []).filter((c) => c.block_id !== made.block_id),
                made,
              ],
            })
          }
          pending={change.isPending}
          error={change.error}
          close={close}
        />
      )}
      {asked?.kind === "wind" && (
        <WindSheet
          supply={supply}
          save={save}
          pending={change.isPending}
          error={change.error}
          close={close}
        />
      )}
      {asked?.kind === "prices" && (
        <PricesSheet
          network={network}
          blocks={blocks}
          save={save}
          pending={change.isPending}
          error={change.error}
          close={close}
        />
      )}
    </Box>
  );
}

function put<T>(rows: T[] | undefined, at: number | null, row: T): T[] {
  const all = rows ?? [];
  return at === null ? [...all, row] : all.map((old, k) => (k === at ? row : old));
}

function without<T>(rows: T[] | undefined, at: number | null): T[] {
  return (rows ?? []).filter((_, k) => k !== at);
}

function partAt(network: Network, kind: PartKind, at: number): PartValue | null {
  return (network[kind]?.[at] as PartValue | undefined) ?? null;
}

/** The description with a part put in, or left out where it is null; names of it follow. */
function withPart(
  network: Network,
  kind: PartKind,
  at: number | null,
  value: PartValue | null,
): Network {
  const rows = network[kind] as PartValue[] | undefined;
  const next = { ...network, [kind]: value ? put(rows, at, value) : without(rows, at) };
  const old = at === null ? undefined : (rows?.[at]?.["name"] as string | undefined);
  const name = value?.["name"] as string | undefined;
  if (!old || old === name || kind === "sources" || kind === "workers") return next;
  const followed = (names: string[] | undefined) =>
    (names ?? []).flatMap((n) => (n === old ? (name ? [name] : []) : [n]));
  return {
    ...next,
    connections: (next.connections ?? []).map((c) =>
      kind === "machines"
        ? { ...c, machine: c.machine === old ? (name ?? null) : (c.machine ?? null) }
        : { ...c, [kind]: followed(c[kind]) },
    ),
  };
}

const ADD: Record<PartKind, () => string> = {
  sources: () => t("supply.addSource"),
  mains: () => t("supply.addMain"),
  groups: () => t("supply.addGroup"),
  machines: () => t("supply.addMachine"),
  workers: () => t("supply.addPerson"),
};

function partTitle(network: Network, kind: PartKind, at: number | null): string {
  const part = at === null ? null : partAt(network, kind, at);
  return part ? t("supply.changePart", { name: String(part["name"]) }) : ADD[kind]();
}
