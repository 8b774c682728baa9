import { Box, Button, Flex, Table, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { withUnit } from "../units/format";
import type { Valve } from "./queries";
import { closesWord, flowWord, stateWord } from "./words";
import { t } from "./t";

interface Props {
  valves: Valve[];
  /** No valve may be opened now. */
  stopped: boolean;
  open: (valve: Valve) => void;
  close: (valve: Valve) => void;
  describe: (valve: Valve) => void;
}

// A phone has room for how a valve stands, and its button.
const WIDE = { display: { base: "none", md: "table-cell" } } as const;

/** Every valve as its controller told last. */
export function ValveTable({ valves, stopped, open, close, describe }: Props) {
  const { may, units } = useSignedIn();
  return (
    <Table.ScrollArea tabIndex={0}>
      <Table.Root size="sm" bg="transparent">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("valves.valve")}</Table.ColumnHeader>
            <Table.ColumnHeader>{t("valves.state")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" {...WIDE}>
              {t("valves.flow")}
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" {...WIDE}>
              {t("valves.expected")}
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" {...WIDE}>
              {t("valves.thisRun")}
            </Table.ColumnHeader>
            <Table.ColumnHeader>
              <span hidden>{t("valves.acts")}</span>
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {valves.map((v) => (
            <Table.Row key={v.id} bg="transparent">
              <Table.Cell px="0">
                <Text fontWeight="600">{v.name}</Text>
                <Text fontSize="xs" color="inkSoft">
                  {v.block ?? t("valves.noBlock")}
                  <Box as="span" hideBelow="md">
                    {" "}
                    {t("valves.outputOf", { controller: v.controller, number: v.number })}
                  </Box>
                </Text>
              </Table.Cell>
              <Table.Cell>
                <Text
                  fontWeight={v.is_open ? 700 : 400}
                  color={v.silent || v.locked_out ? "rust" : v.is_open ? "water" : undefined}
                >
                  {stateWord(v)}
                </Text>
                <Text fontSize="xs" color="inkSoft">
                  {closesWord(v)}
                </Text>
                {v.is_open && !v.silent && (
                  <Text fontSize="xs" hideFrom="md">
                    {flowWord(v.flow_ls, units)}
                  </Text>
                )}
              </Table.Cell>
              <Table.Cell textAlign="end" {...WIDE}>
                {v.silent ? "–" : flowWord(v.flow_ls, units)}
              </Table.Cell>
              <Table.Cell textAlign="end" {...WIDE}>
                {flowWord(v.expected_ls, units)}
              </Table.Cell>
              <Table.Cell textAlign="end" {...WIDE}>
                {v.is_open ? withUnit(v.volume_m3, units, "volume", 1) : ""}
              </Table.Cell>
              <Table.Cell>
                <Flex gap="2" justify="end">
                  {may("operate_valves") &&
                    (v.is_open || v.opening ? (
                      <Button
                        size="sm"
                        variant="outline"
                        disabled={v.closing}
                        aria-label={t("valves.closeValve", { valve: v.name })}
                        onClick={() => close(v)}
                      >
                        {t("valves.close")}
                      </Button>
                    ) : (
                      <Button
                        size="sm"
                        disabled={stopped || v.silent || v.locked_out || v.is_open === null}
                        aria-label={t("valves.openValve", { valve: v.name })}
                        onClick={() => open(v)}
                      >
                        {t("valves.open")}
                      </Button>
                    ))}
                  {may("manage_valves") && (
                    <Button
                      size="sm"
                      variant="ghost"
                      hideBelow="md"
                      aria-label={t("valves.changeValve", { valve: v.name })}
                      onClick={() => describe(v)}
                    >
                      {t("valves.change")}
                    </Button>
                  )}
                </Flex>
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}
