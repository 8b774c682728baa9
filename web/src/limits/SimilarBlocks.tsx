import { Box, Button, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { useBorrow, useSimilarBlocks, type RootZone } from "./queries";
import { t } from "./t";
import { AdoptSheet } from "./UseSeen";

/** A block without a site beside similar ones that have one: where they stand, what use they showed. */
export function SimilarBlocks({ block, name }: { block: number; name: string }) {
  const { farm, units, may } = useSignedIn();
  const found = useSimilarBlocks(farm.slug, block);
  const borrow = useBorrow(farm.slug, block);
  const [from, setFrom] = useState<number | null>(null);
  if (found.isPending) return null;
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  const { sites, blocks, now, borrows_from: lender } = found.data;
  if (sites.length > 0 || now === null) return null;
  const chosen = blocks.find((b) => b.id === from);
  return (
    <Box as="section" aria-labelledby="similar-blocks" mb="6">
      <Heading as="h2" id="similar-blocks" size="lg">
        {t("limits.similarBlocks")}
      </Heading>
      <Text fontSize="sm" color="inkSoft">
        {blocks.length === 0 ? t("limits.noSimilarBlock") : t("limits.similarBlocksHelp")}
      </Text>
      {lender !== null && (
        <Text fontSize="sm" mt="1">
          {t("limits.borrowsFrom", { block: lender.name })}{" "}
          {may("set_up_ground") && (
            <Button
              size="xs"
              variant="outline"
              loading={borrow.isPending}
              onClick={() => borrow.mutate(null)}
            >
              {t("limits.stopBorrowing")}
            </Button>
          )}
        </Text>
      )}
      {blocks.length > 0 && (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("limits.block")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">
                  {t("limits.deficitNow", { unit: measure(units, "water").label })}
                </Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("limits.usedNow")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("limits.useOfCrop")}</Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              <Table.Row bg="transparent">
                <Table.Cell px="0">
                  {lender === null
                    ? t("limits.byBalanceAlone", { name })
                    : t("limits.byBorrowed", { name })}
                </Table.Cell>
                <Standing now={now} />
                <Table.Cell>–</Table.Cell>
                <Table.Cell />
              </Table.Row>
              {blocks.map((b) => (
                <Table.Row key={b.id} bg="transparent">
                  <Table.Cell px="0">
                    <Link to={`/${farm.slug}/blocks/${b.id}`}>{b.name}</Link>, {b.sites.join(", ")}
                  </Table.Cell>
                  <Standing now={b.now} />
                  <Table.Cell>
                    {b.use
                      ? t("limits.useOfStated", { share: number(b.use.share * 100, 0) })
                      : t("limits.useNotTold")}
                    {b.use?.fit === "differs" && may("set_up_ground") && (
                      <Button size="xs" variant="outline" ms="2" onClick={() => setFrom(b.id)}>
                        {t("limits.borrowUse")}
                      </Button>
                    )}
                  </Table.Cell>
                  <Table.Cell textAlign="end">
                    {b.id !== lender?.id && may("set_up_ground") && (
                      <Button
                        size="xs"
                        variant="outline"
                        aria-label={t("limits.borrowReadingsOf", { block: b.name })}
                        loading={borrow.isPending}
                        onClick={() => borrow.mutate(b.id)}
                      >
                        {t("limits.borrowReadings")}
                      </Button>
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {borrow.error && <Notice error={borrow.error} />}
      {chosen?.use && (
        <AdoptSheet
          block={block}
          name={chosen.name}
          use={chosen.use}
          seenOn={chosen.id}
          close={() => setFrom(null)}
        />
      )}
    </Box>
  );
}

function Standing({ now }: { now: RootZone }) {
  const { units } = useSignedIn();
  return (
    <>
      <Table.Cell textAlign="end" whiteSpace="nowrap">
        {now.deficit_mm === null
          ? t("limits.notKnown")
          : `${figure(now.deficit_mm, units, "water")}${now.sigma_mm === null ? "" : ` ± ${figure(now.sigma_mm, units, "water")}`}`}
      </Table.Cell>
      <Table.Cell textAlign="end">
        {now.used_share === null ? "–" : `${number(now.used_share * 100, 0)} %`}
      </Table.Cell>
    </>
  );
}
