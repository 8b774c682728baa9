import { Box, Button, Code, Flex, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
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

/** Loggers and gateways that send by themselves, and their tokens. */
export function LoggerList() {
  const { farm, may } = useSignedIn();
  const devices = useDevices(farm.slug);
  const revoke = useRevoke(farm.slug);
  const renew = useRenewToken(farm.slug);
  const time = useFarmTime();
  const [making, setMaking] = useState(false);
  const [token, setToken] = useState<{ name: string; token: string } | null>(null);
  if (devices.isPending || !time) return <Loading what="Calling the loggers" />;
  if (devices.error) return <Notice error={devices.error} retry={() => void devices.refetch()} />;
  const manages = may("manage_devices");
  return (
    <Box maxW="1240px">
      <BehindInstruments
        title="Loggers"
        action={
          manages && (
            <Button size="sm" onClick={() => setMaking(true)}>
              New logger
            </Button>
          )
        }
      >
        Each sends readings by itself with a token of its own. A token reaches only the instruments
        chosen for it, is shown once, and can be revoked at once.
      </BehindInstruments>
      {(revoke.error ?? renew.error) && <Notice error={revoke.error ?? renew.error} />}
      {devices.data.length === 0 ? (
        <Text py="6">No logger sends to this farm yet.</Text>
      ) : (
        <Table.ScrollArea>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">Logger</Table.ColumnHeader>
                <Table.ColumnHeader>Last heard</Table.ColumnHeader>
                <Table.ColumnHeader>Clock</Table.ColumnHeader>
                <Table.ColumnHeader>Battery</Table.ColumnHeader>
                <Table.ColumnHeader>Signal</Table.ColumnHeader>
                <Table.ColumnHeader>Refused last time</Table.ColumnHeader>
                <Table.ColumnHeader>Token</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {devices.data.map((d) => (
                <Table.Row key={d.id} bg="transparent" color={d.revoked_at ? "inkSoft" : "ink"}>
                  <Table.Cell px="0" fontWeight="600">
                    {d.name}
                    {d.simulated && <Text as="span"> (simulated)</Text>}
                    <Text fontSize="xs" fontWeight="400" color="inkSoft">
                      {d.instruments.length === 0
                        ? "the whole farm"
                        : `${d.instruments.length} instruments`}
                    </Text>
                  </Table.Cell>
                  <Table.Cell>{lastWord(d.last_seen_at, time)}</Table.Cell>
                  <Table.Cell color={d.clock_wrong ? "rust" : undefined}>
                    {clockWord(d.skew_seconds)}
                  </Table.Cell>
                  <Table.Cell>{d.battery_v === null ? "–" : `${d.battery_v} V`}</Table.Cell>
                  <Table.Cell>{d.signal_dbm === null ? "–" : `${d.signal_dbm} dBm`}</Table.Cell>
                  <Table.Cell color={d.last_refused > 0 ? "rust" : undefined}>
                    {d.last_refused}
                  </Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {d.revoked_at ? "revoked" : `ends …${d.token_hint}`}
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
      {(making || token) && (
        <LoggerSheet
          token={token}
          made={setToken}
          close={() => {
            setMaking(false);
            setToken(null);
          }}
        />
      )}
    </Box>
  );
}

function TokenActs(props: { device: Device; renew: () => void; revoke: () => void }) {
  return (
    <Flex gap="2" mt="1">
      <Button size="2xs" variant="outline" onClick={props.renew}>
        New token
      </Button>
      {!props.device.revoked_at && (
        <Button size="2xs" variant="outline" onClick={props.revoke}>
          Revoke
        </Button>
      )}
    </Flex>
  );
}

interface SheetProps {
  token: { name: string; token: string } | null;
  made: (token: { name: string; token: string }) => void;
  close: () => void;
}

/** Names a new logger, then shows its token; one sheet, so that nothing closes in between. */
function LoggerSheet({ token, made, close }: SheetProps) {
  const { farm } = useSignedIn();
  const make = useMakeDevice(farm.slug);
  const instruments = useInstruments(farm.slug);
  const [name, setName] = useState("");
  const [scope, setScope] = useState<number[]>([]);
  const problems = problemsOf(make.error);
  return (
    <Sheet
      title={token ? `Token of ${token.name}` : "New logger"}
      close={close}
      size="lg"
      footer={
        token ? (
          <Button size="sm" onClick={close}>
            I have written it down
          </Button>
        ) : (
          <Button
            size="sm"
            loading={make.isPending}
            onClick={() =>
              make.mutate(
                { name, instruments: scope },
                { onSuccess: (a) => made({ name: a.device.name, token: a.token }) },
              )
            }
          >
            Make it and show its token
          </Button>
        )
      }
    >
      {token ? (
        <TokenText token={token.token} />
      ) : (
        <>
          <Line label="Name" value={name} change={setName} error={problems["name"]} />
          <Text mt="3" fontWeight="600">
            May write for
          </Text>
          <Text fontSize="sm" color="inkSoft">
            Choose none to let it write for the whole farm.
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
      )}
    </Sheet>
  );
}

function TokenText({ token }: { token: string }) {
  return (
    <>
      <Text>It is shown this once; only a hash of it is kept.</Text>
      <Code display="block" p="3" my="3" bg="bed" wordBreak="break-all" userSelect="all">
        {token}
      </Code>
      <Text fontSize="sm">Send readings as JSON, plain or gzip; the channels' numbers are at</Text>
      <Code fontSize="xs" bg="transparent">
        GET {window.location.origin}/api/ingest/channels
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
