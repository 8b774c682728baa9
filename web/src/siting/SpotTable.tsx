import { Box, Button, Heading, Table, Text } from "@chakra-ui/react";
import { number } from "../units/format";
import type { Siting, Spot } from "./queries";
import { t } from "./t";
import { TERMS, zoneName } from "./words";

interface Props {
  siting: Siting;
  flag: [number, number] | null;
  choose: (at: [number, number]) => void;
}

/** The best spots with what their scores are made of; one puts the flag there. */
export function SpotTable({ siting, flag, choose }: Props) {
  const first = siting.spots[0];
  if (!first)
    return (
      <Text mt="4" color="rust">
        {t("siting.noSpotLeft")}
      </Text>
    );
  const terms = first.terms.map((x) => x.term);
  const zone = siting.zones.find((z) => z.zone === first.zone);
  const pair = siting.pair;
  const other = siting.zones.find((z) => z.zone === pair?.spot.zone);
  return (
    <Box mt="4">
      <Heading as="h2" size="md">
        {t("siting.bestSpots", { zone: zone ? zoneName(zone) : "" })}
      </Heading>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.spot")}</Table.ColumnHeader>
              <Table.ColumnHeader px="1.5" textAlign="end">
                {t("siting.score")}
              </Table.ColumnHeader>
              {terms.map((term) => (
                <Table.ColumnHeader
                  key={term}
                  px="1.5"
                  textAlign="end"
                  whiteSpace="normal"
                  fontSize="xs"
                >
                  {TERMS[term]}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {siting.spots.map((spot, i) => (
              <Row
                key={spot.position.join()}
                name={String(i + 1)}
                spot={spot}
                on={spot.position.join() === flag?.join()}
                choose={choose}
              />
            ))}
            {pair && (
              <Row
                name={t("siting.second")}
                spot={pair.spot}
                on={pair.spot.position.join() === flag?.join()}
                choose={choose}
              />
            )}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {pair && (
        <Text fontSize="sm" mt="2">
          {t("siting.secondAdds", {
            zone: other ? zoneName(other) : "",
            gain: number(Math.max(pair.gain, 0) * 100, 0),
          })}
        </Text>
      )}
    </Box>
  );
}

interface RowProps {
  name: string;
  spot: Spot;
  on: boolean;
  choose: (at: [number, number]) => void;
}

function Row({ name, spot, on, choose }: RowProps) {
  return (
    <Table.Row bg={on ? "bed" : "transparent"}>
      <Table.Cell px="0">
        <Button size="xs" variant="outline" onClick={() => choose(spot.position)}>
          {name}
        </Button>
      </Table.Cell>
      <Table.Cell px="1.5" textAlign="end" fontWeight="700">
        {number(spot.score, 0)}
      </Table.Cell>
      {spot.terms.map((x) => (
        <Table.Cell key={x.term} px="1.5" textAlign="end">
          {number(x.value === null ? null : x.value * 100, 0)}
        </Table.Cell>
      ))}
    </Table.Row>
  );
}
