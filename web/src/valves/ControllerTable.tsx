import { Box, Button, Code, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { runningTime } from "../units/format";
import {
  useAddController,
  useRenewControllerToken,
  useRevokeController,
  type Controller,
} from "./queries";
import { t } from "./t";

/** Controllers in the field, whether they are heard, and their tokens. */
export function ControllerTable({ controllers }: { controllers: Controller[] }) {
  const { farm, may } = useSignedIn();
  const renew = useRenewControllerToken(farm.slug);
  const revoke = useRevokeController(farm.slug);
  const [adding, setAdding] = useState(false);
  const [token, setToken] = useState("");
  const manages = may("manage_valves");
  return (
    <Box as="section" mt="8">
      <Flex justify="space-between" align="center" gap="4">
        <Heading as="h2" size="md">
          {t("valves.controllers")}
        </Heading>
        {manages && (
          <Button size="sm" variant="outline" onClick={() => setAdding(true)}>
            {t("valves.newController")}
          </Button>
        )}
      </Flex>
      {(renew.error ?? revoke.error) && <Notice error={renew.error ?? revoke.error} />}
      {controllers.length > 0 && (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("valves.controller")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.contact")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.longestRun")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.closesWithoutContact")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("valves.token")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {controllers.map((c) => (
                <Table.Row key={c.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    {c.name} {c.simulated && t("valves.simulated")}
                  </Table.Cell>
                  <Table.Cell color={c.silent ? "rust" : undefined}>{contactWord(c)}</Table.Cell>
                  <Table.Cell>
                    {runningTime(c.longest_min === null ? null : c.longest_min / 60)}
                  </Table.Cell>
                  <Table.Cell>{t("valves.afterSeconds", { seconds: c.contact_s })}</Table.Cell>
                  <Table.Cell whiteSpace="nowrap">
                    {c.revoked
                      ? t("valves.revoked")
                      : c.token_hint && t("valves.tokenEndsIn", { hint: c.token_hint })}
                    {manages && (
                      <Flex gap="2" mt="1">
                        <Button
                          size="2xs"
                          variant="outline"
                          onClick={() =>
                            renew.mutate(c.id, { onSuccess: (made) => setToken(made.token) })
                          }
                        >
                          {t("valves.newToken")}
                        </Button>
                        {!c.revoked && (
                          <Button size="2xs" variant="outline" onClick={() => revoke.mutate(c.id)}>
                            {t("valves.revoke")}
                          </Button>
                        )}
                      </Flex>
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {adding && <NewController close={() => setAdding(false)} />}
      {token && (
        <Sheet
          title={t("valves.tokenTitle")}
          close={() => setToken("")}
          footer={<Copied close={() => setToken("")} />}
        >
          <Token token={token} />
        </Sheet>
      )}
    </Box>
  );
}

function contactWord(c: Controller): string {
  if (c.heard_s_ago === null) return t("valves.neverHeard");
  const seconds = Math.round(c.heard_s_ago);
  if (!c.silent) return t("valves.heardAgo", { seconds });
  return t("valves.silentFor", { time: runningTime(c.heard_s_ago / 3600) });
}

function NewController({ close }: { close: () => void }) {
  const { farm } = useSignedIn();
  const add = useAddController(farm.slug);
  const [name, setName] = useState("");
  return (
    <FormSheet
      title={t("valves.newController")}
      close={close}
      save={() => add.mutate({ name, simulated: false })}
      words={t("valves.createToken")}
      pending={add.isPending}
      done={add.data && <Copied close={close} />}
    >
      {add.data ? (
        <Token token={add.data.token} />
      ) : (
        <Line
          label={t("valves.name")}
          value={name}
          change={setName}
          error={problemsOf(add.error)["name"]}
        />
      )}
      {add.error && !problemsOf(add.error)["name"] && <Notice error={add.error} />}
    </FormSheet>
  );
}

function Copied({ close }: { close: () => void }) {
  return (
    <Button size="sm" onClick={close}>
      {t("valves.copied")}
    </Button>
  );
}

function Token({ token }: { token: string }) {
  return (
    <>
      <Text>{t("valves.shownOnce")}</Text>
      <Code display="block" p="3" my="3" bg="bed" wordBreak="break-all" userSelect="all">
        {token}
      </Code>
    </>
  );
}
