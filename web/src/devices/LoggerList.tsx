import { Box, Button, Code, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { Tick } from "../form/Tick";
import { useInstruments } from "../instruments/queries";
import { lastWord } from "../instruments/words";
import { BehindInstruments } from "../instruments/BehindInstruments";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { useDevices, useMakeDevice, useRenewToken, useRevoke, type Device } from "./queries";
import { clockWord } from "./words";
import { t } from "./t";

/** Loggers and gateways that send by themselves, and their tokens. */
export function LoggerList() {
  const { farm, may } = useSignedIn();
  const devices = useDevices(farm.slug);
  const revoke = useRevoke(farm.slug);
  const renew = useRenewToken(farm.slug);
  const time = useFarmTime();
  const [making, setMaking] = useState(false);
  const [token, setToken] = useState<{ name: string; token: string } | null>(null);
  if (devices.isPending || !time) return <Loading what={t("devices.loadingTheLoggers")} />;
  if (devices.error) return <Notice error={devices.error} retry={() => void devices.refetch()} />;
  const manages = may("manage_devices");
  return (
    <Box maxW="1240px">
      <BehindInstruments
        title={t("devices.loggers")}
        action={
          manages && (
            <Button size="sm" onClick={() => setMaking(true)}>
              {t("devices.newLogger")}
            </Button>
          )
        }
      >
        {t("devices.eachLoggerSendsItsReadingsWithA")}
      </BehindInstruments>
      {(revoke.error ?? renew.error) && <Notice error={revoke.error ?? renew.error} />}
      {devices.data.length === 0 ? (
        <Text py="6">{t("devices.noLoggerSendsToThisFarmYet")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("devices.logger")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.lastContact")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.clock")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.battery")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.signal")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.rejectedLastTime")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("devices.token")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {devices.data.map((d) => (
                <Table.Row key={d.id} bg="transparent" color={d.revoked_at ? "inkSoft" : "ink"}>
                  <Table.Cell px="0" fontWeight="600">
                    {d.name}
                    {d.simulated && <Text as="span"> {t("devices.simulated")}</Text>}
                    <Text fontSize="xs" fontWeight="400" color="inkSoft">
                      {d.instruments.length === 0
                        ? t("devices.theWholeFarm")
                        : t("devices.instruments", { count: d.instruments.length })}
                    </Text>
                  </Table.Cell>
                  <Table.Cell>{lastWord(d.last_seen_at, time)}</Table.Cell>
                  <Table.Cell color={d.clock_wrong ? "rust" : undefined}>
                    {clockWord(d.skew_seconds)}
                  </Table.Cell>
                  <Table.Cell>{d.battery_v === null ? "–" : `${d.battery_v} V`}</Table.Cell>
                  <Table.Cell>
                    {d.signal_dbm === null ? "–" : t("devices.dbm", { signalDbm: d.signal_dbm })}
                  </Table.Cell>
                  <Table.Cell color={d.last_refused > 0 ? "rust" : undefined}>
                    {d.last_refused}
                  </Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {d.revoked_at
                      ? t("devices.revoked")
                      : t("devices.endsIn", { tokenHint: d.token_hint })}
                    {manages && (
                      <TokenActs
                        device={d}
                        renew={() =>
                          renew.mutate(d.id, {
                            onSuccess: (made) => setToken({ name: d.name, token: made.token }),
                          })
                        }
                        revoke={() => revoke.mutate(d.id)}
                      />
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {making && <NewLogger close={() => setMaking(false)} />}
      {token && <TokenSheet {...token} close={() => setToken(null)} />}
    </Box>
  );
}

function TokenActs(props: { device: Device; renew: () => void; revoke: () => void }) {
  return (
    <Flex gap="2" mt="1">
      <Button size="2xs" variant="outline" onClick={props.renew}>
        {t("devices.newToken")}
      </Button>
      {!props.device.revoked_at && (
        <Button size="2xs" variant="outline" onClick={props.revoke}>
          {t("devices.revoke")}
        </Button>
      )}
    </Flex>
  );
}

/** Names a new logger, then shows its token. */
function NewLogger({ close }: { close: () => void }) {
  const { farm } = useSignedIn();
  const make = useMakeDevice(farm.slug);
  const instruments = useInstruments(farm.slug);
  const [name, setName] = useState("");
  const [scope, setScope] = useState<number[]>([]);
  const problems = problemsOf(make.error);
  return (
    <FormSheet
      title={make.data ? t("devices.tokenOf", { name }) : t("devices.newLogger")}
      close={close}
      size="lg"
      done={make.data && <TokenCopied close={close} />}
      save={() => make.mutate({ name, instruments: scope })}
      words={t("devices.createAndShowTheToken")}
      pending={make.isPending}
    >
      {make.data ? (
        <TokenText token={make.data.token} />
      ) : (
        <>
          {" "}
          <Line label={t("devices.name")} value={name} change={setName} error={problems["name"]} />
          <Text mt="3" fontWeight="600">
            {t("devices.sendsReadingsOf")}
          </Text>
          <Text fontSize="sm" color="inkSoft">
            {t("devices.chooseNoneToAllowAllInstrumentsOf")}
          </Text>
          {instruments.data?.map((i) => (
            <Box key={i.id} mt="1">
              <Tick
                label={`${i.label}, ${i.block}`}
                on={scope.includes(i.id)}
                change={(on) => setScope(on ? [...scope, i.id] : scope.filter((x) => x !== i.id))}
              />
            </Box>
          ))}
          {make.error && !problems["name"] && <Notice error={make.error} />}
        </>
      )}{" "}
    </FormSheet>
  );
}

function TokenSheet({ name, token, close }: { name: string; token: string; close: () => void }) {
  return (
    <Sheet
      title={t("devices.tokenOf", { name })}
      close={close}
      size="lg"
      footer={<TokenCopied close={close} />}
    >
      <TokenText token={token} />
    </Sheet>
  );
}

function TokenCopied({ close }: { close: () => void }) {
  return (
    <Button size="sm" onClick={close}>
      {t("devices.iHaveCopiedIt")}
    </Button>
  );
}

function TokenText({ token }: { token: string }) {
  return (
    <>
      <Text>{t("devices.itIsShownThisOnceOnlyA")}</Text>
      <Code display="block" p="3" my="3" bg="bed" wordBreak="break-all" userSelect="all">
        {token}
      </Code>
      <Text fontSize="sm">{t("devices.sendReadingsAsJsonPlainOrGzip")}</Text>
      <Code fontSize="xs" bg="transparent">
        {t("devices.getApiIngestChannels", { origin: window.location.origin })}
      </Code>
      <Code as="pre" display="block" p="3" mt="3" bg="bed" fontSize="xs" whiteSpace="pre-wrap">
        {`POST ${window.location.origin}/api/ingest
Authorization: Bearer ${token.slice(0, 8)}…
Content-Type: application/json

{"batch": "2026-07-14T06:00", "sent_at": "2026-07-14T06:00:04Z", "battery_v": 12.6,
 "series": [{"channel": 17, "unit": "%",
             "times": ["2026-07-14T05:45:00Z", "2026-07-14T06:00:00Z"],
             "values": [24.1, 24.0]}]}`}
      </Code>
    </>
  );
}
