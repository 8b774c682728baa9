import { Button, Kbd, Table } from "@chakra-ui/react";
import { Sheet } from "./Sheet";
import { t } from "./t";

const KEYS: [string, string][] = [
  [t("app.jOr"), t("app.nextBlockOnTheBoard")],
  [t("app.kOr"), t("app.previousBlock")],
  [t("app.enter"), t("app.openTheBlock")],
  ["↑ ↓", t("app.inAListFromNameToName")],
  [t("app.space"), t("app.inAListPickTheRow")],
  ["a", t("app.onARowScheduleTheIrrigationAs")],
  ["e", t("app.onARowAdjustTimeOrAmount")],
  ["x", t("app.onARowSkipWithAReason")],
  ["z", t("app.onARowUndoTheDecision")],
  ["f", t("app.findABlockOnTheBoard")],
  ["b", t("app.backToTheBoard2")],
  ["i", t("app.irrigationLogWeatherDailySummary")],
  ["m", t("app.farmBlocksMapSoilsCrops")],
  ["n", t("app.newBlock")],
  ["l", t("app.onABlockProfileOrLines")],
  ["u", t("app.metricOrUsUnits")],
  ["d", t("app.darkOrLightTheme")],
  ["?", t("app.thisListOfKeys")],
];

/** The list of all keys. */
export default function KeyList({ close }: { close: () => void }) {
  const footer = (
    <Button size="sm" variant="outline" onClick={close}>
      {t("app.close")}
    </Button>
  );
  return (
    <Sheet title={t("app.keyboardShortcuts")} close={close} footer={footer}>
      <Table.Root size="sm" variant="line">
        <Table.Body>
          {KEYS.map(([key, what]) => (
            <Table.Row key={key} bg="transparent">
              <Table.Cell>
                <Kbd>{key}</Kbd>
              </Table.Cell>
              <Table.Cell>{what}</Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Sheet>
  );
}
