import { Box, Button, Flex, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { useSignedIn } from "../session/context";
import type { Role } from "../session/queries";
import { useFarmTime } from "../time/useFarmTime";
import { AddPerson } from "./AddPerson";
import { Invitation } from "./Invitation";
import {
  useChangeRole,
  usePeople,
  useRemovePerson,
  useRenewInvitation,
  type Person,
} from "./queries";
import { ROLE_NAMES, ROLES } from "./roles";
import { t } from "./t";

/** Who belongs to the farm, and as what. */
export function PeopleList() {
  const { farm, may } = useSignedIn();
  const people = usePeople(farm.slug);
  const renew = useRenewInvitation(farm.slug);
  const [adding, setAdding] = useState(false);
  const [leaving, setLeaving] = useState<Person | null>(null);
  const [link, setLink] = useState<{ name: string; token: string } | null>(null);
  if (people.isPending) return <Loading what={t("people.loadingThePeople")} />;
  if (people.error) return <Notice error={people.error} retry={() => void people.refetch()} />;
  const manages = may("manage_people");
  return (
    <Box maxW="1240px">
      <Flex justify="space-between" align="center" gap="4" mb="3">
        <Text color="inkSoft" fontSize="sm">
          {t("people.intro")}
        </Text>
        {manages && (
          <Button size="sm" flexShrink={0} onClick={() => setAdding(true)}>
            {t("people.addPerson")}
          </Button>
        )}
      </Flex>
      {renew.error && <Notice error={renew.error} />}
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("people.name")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("people.role")}</Table.ColumnHeader>
              {manages && (
                <Table.ColumnHeader hideBelow="md">{t("people.email")}</Table.ColumnHeader>
              )}
              {manages && <Table.ColumnHeader>{t("people.lastSignIn")}</Table.ColumnHeader>}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {people.data.map((person) => (
              <Row
                key={person.id}
                person={person}
                manages={manages}
                renew={() =>
                  renew.mutate(person.id, {
                    onSuccess: ({ token }) => setLink({ name: person.name, token }),
                  })
                }
                remove={() => setLeaving(person)}
              />
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {adding && <AddPerson close={() => setAdding(false)} />}
      {link && <Invitation {...link} close={() => setLink(null)} />}
      {leaving && <Removal person={leaving} close={() => setLeaving(null)} />}
    </Box>
  );
}

interface RowProps {
  person: Person;
  manages: boolean;
  renew: () => void;
  remove: () => void;
}

function Row({ person, manages, renew, remove }: RowProps) {
  return (
    <Table.Row bg="transparent">
      <Table.Cell px="0">
        <Text fontWeight="600">
          {person.name} {person.you && t("people.you")}
        </Text>
        {/* On a phone the address has no column of its own. */}
        <Text hideFrom="md" fontSize="xs" color="inkSoft" wordBreak="break-all">
          {person.email}
        </Text>
      </Table.Cell>
      <Table.Cell>{manages ? <RoleOf person={person} /> : ROLES[person.role].name}</Table.Cell>
      {manages && <Table.Cell hideBelow="md">{person.email}</Table.Cell>}
      {manages && (
        <Table.Cell>
          <Flex
            gap={{ base: "1", md: "3" }}
            align={{ base: "flex-start", md: "center" }}
            maxW={{ base: "96px", md: "none" }}
            direction={{ base: "column", md: "row" }}
          >
            <LastSignIn person={person} />
            {person.invited && (
              <Button
                size="2xs"
                variant="outline"
                aria-label={t("people.newLinkFor", { name: person.name })}
                onClick={renew}
              >
                {t("people.newLink")}
              </Button>
            )}
            <Button
              size="2xs"
              variant="outline"
              aria-label={t("people.removeName", { name: person.name })}
              onClick={remove}
            >
              {t("people.remove")}
            </Button>
          </Flex>
        </Table.Cell>
      )}
    </Table.Row>
  );
}

function LastSignIn({ person }: { person: Person }) {
  const time = useFarmTime();
  if (person.invited) return <Text color="ochre">{t("people.notYet")}</Text>;
  if (!person.signed_in_at || !time) return <Text>{t("people.never")}</Text>;
  return <Text>{time.full(new Date(person.signed_in_at))}</Text>;
}

function RoleOf({ person }: { person: Person }) {
  const { farm } = useSignedIn();
  const change = useChangeRole(farm.slug);
  return (
    <>
      <NativeSelect.Root size="xs" w={{ base: "104px", md: "140px" }} disabled={change.isPending}>
        <NativeSelect.Field
          bg="sheet"
          aria-label={t("people.roleOf", { name: person.name })}
          value={person.role}
          onChange={(e) =>
            change.mutate({ person: person.id, role: e.currentTarget.value as Role })
          }
        >
          {ROLE_NAMES.map((role) => (
            <option key={role} value={role}>
              {ROLES[role].name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {change.error && <Notice error={change.error} />}
    </>
  );
}

function Removal({ person, close }: { person: Person; close: () => void }) {
  const { farm } = useSignedIn();
  const remove = useRemovePerson(farm.slug);
  return (
    <Sheet
      title={t("people.removeTitle", { name: person.name })}
      close={close}
      footer={
        <>
          <Button size="sm" variant="outline" onClick={close}>
            {t("people.keep")}
          </Button>
          <Button
            size="sm"
            loading={remove.isPending}
            onClick={() => remove.mutate(person.id, { onSuccess: close })}
          >
            {t("people.removeName", { name: person.name })}
          </Button>
        </>
      }
    >
      <Text>{t("people.removeText")}</Text>
      {remove.error && <Notice error={remove.error} />}
    </Sheet>
  );
}
