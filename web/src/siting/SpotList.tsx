import { Box, Heading, Table } from "@chakra-ui/react";
import { Link } from "react-router";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import type { Cover } from "./queries";
import { t } from "./t";

/** The farm's chosen spots, and what is to be done at each next. */
export function SpotList({ spots }: { spots: Cover["spots"] }) {
  const { farm } = useSignedIn();
  if (spots.length === 0) return null;
  return (
    <Box mt="6">
      <Heading as="h2" size="md">
        {t("siting.chosenSpots")}
      </Heading>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.spot")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.core")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.probe")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.nextStep")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {spots.map((s) => (
              <Table.Row key={s.id} bg="transparent">
                <Table.Cell px="0">
                  <Link to={`/${farm.slug}/spots/${s.id}`}>
                    {s.block}, {s.name}
                  </Link>
                </Table.Cell>
                <Table.Cell>{s.core_on ? shownDay(s.core_on) : "–"}</Table.Cell>
                <Table.Cell>{s.instrument || "–"}</Table.Cell>
                <Table.Cell>{nextStep(s)}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}

function nextStep(spot: Cover["spots"][number]): string {
  if (!spot.instrument) return spot.core_on ? t("siting.toInstall") : t("siting.toTakeCore");
  if (spot.status === "settling" && spot.settled_at)
    return t("siting.settlesUntilDay", { day: shownDay(spot.settled_at.slice(0, 10)) });
  return spot.next_check
    ? t("siting.nextCheck", { day: shownDay(spot.next_check) })
    : t("siting.toCheck");
}
