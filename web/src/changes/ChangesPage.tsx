import { Box, Button, Flex, Heading, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSettled } from "../form/useSettled";
import { usePeople } from "../people/queries";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import type { FarmTime } from "../time/farmTime";
import { byDay, type Line } from "./byDay";
import { useChanges, useUndoChange } from "./queries";
import { t } from "./t";

/** Who changed what on the farm, newest first, with what can be undone. */
export function ChangesPage() {
  const { farm } = useSignedIn();
  const [by, setBy] = useState<number | null>(null);
  const [typed, setTyped] = useState("");
  const find = useSettled(typed.trim(), 250);
  const time = useFarmTime();
  const changes = useChanges(farm.slug, { by, find });
  if (changes.error) return <Notice error={changes.error} retry={() => void changes.refetch()} />;
  const found = changes.data?.pages.flatMap((page) => page.changes) ?? [];
  return (
    <Box maxW="1240px">
      <Text color="inkSoft" fontSize="sm" mb="3">
        {t("changes.intro")}
      </Text>
      <Flex gap="3" wrap="wrap" mb="4">
        <ByPerson by={by} change={setBy} />
        <Input
          size="sm"
          w="190px"
          bg="sheet"
          type="search"
          aria-label={t("changes.find")}
          placeholder={t("changes.find")}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </Flex>
      {changes.isPending || !time ? (
        <Loading what={t("changes.loading")} />
      ) : (
        <>
          {found.length === 0 && (
            <Text>{by === null && find === "" ? t("changes.none") : t("changes.noneFound")}</Text>
          )}
          {byDay(found, time).map((day) => (
            <Box key={day.heading} mb="5">
              <Heading as="h2" size="md" mb="1">
                {day.heading}
              </Heading>
              <Box as="ul" p="0" m="0" listStyleType="none">
                {day.lines.map((line) => (
                  <Entry key={line.change.id} line={line} time={time} />
                ))}
              </Box>
            </Box>
          ))}
          {changes.hasNextPage && (
            <Button
              size="sm"
              variant="outline"
              loading={changes.isFetchingNextPage}
              onClick={() => void changes.fetchNextPage()}
            >
              {t("changes.showMore")}
            </Button>
          )}
        </>
      )}
    </Box>
  );
}

function ByPerson({ by, change }: { by: number | null; change: (by: number | null) => void }) {
  const { farm } = useSignedIn();
  const people = usePeople(farm.slug);
  return (
    <NativeSelect.Root size="sm" w="190px">
      <NativeSelect.Field
        bg="sheet"
        aria-label={t("changes.person")}
        value={by ?? ""}
        onChange={(e) => change(e.currentTarget.value ? Number(e.currentTarget.value) : null)}
      >
        <option value="">{t("changes.everybody")}</option>
        {people.data?.map((person) => (
          <option key={person.id} value={person.id}>
            {person.name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

function Entry({ line, time }: { line: Line; time: FarmTime }) {
  const { farm } = useSignedIn();
  const undo = useUndoChange(farm.slug);
  const { change, about } = line;
  const what = t(`changes.${change.done}`);
  const names = about.filter(Boolean).join(", ");
  return (
    <Box as="li" borderTopWidth="1px" borderColor="rule" py="1.5">
      <Flex gap="4" align="baseline">
        <Text w="44px" color="inkSoft" flexShrink={0}>
          {time.clock(new Date(change.at))}
        </Text>
        <Flex flex="1" minW="0" columnGap="4" direction={{ base: "column", md: "row" }}>
          <Text w={{ base: "auto", md: "170px" }} flexShrink={0}>
            {change.by ?? t("changes.atTheServer")}
          </Text>
          <Box minW="0">
            <Text as="span" color={change.undone_at ? "inkSoft" : "ink"}>
              {about.length > 1 ? t("changes.repeated", { what, count: about.length }) : what}
              {names && ": "}
              {names &&
                (change.block_id !== null && about.length === 1 ? (
                  <Link
                    to={`/${farm.slug}/blocks/${change.block_id}`}
                    style={{ textDecoration: "underline" }}
                  >
                    {names}
                  </Link>
                ) : (
                  names
                ))}
            </Text>
            {change.undone_at && (
              <Text fontSize="sm" color="inkSoft">
                {change.undone_by
                  ? t("changes.undoneBy", {
                      who: change.undone_by,
                      when: time.full(new Date(change.undone_at)),
                    })
                  : t("changes.undone", { when: time.full(new Date(change.undone_at)) })}
              </Text>
            )}
            {undo.error && <Notice error={undo.error} />}
          </Box>
        </Flex>
        {change.can_undo && (
          <Button
            size="2xs"
            variant="outline"
            flexShrink={0}
            loading={undo.isPending}
            aria-label={t("changes.undoOf", { what, about: names })}
            onClick={() => undo.mutate(change.id)}
          >
            {t("changes.undo")}
          </Button>
        )}
      </Flex>
    </Box>
  );
}
