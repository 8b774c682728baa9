import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";
import { Choice, Line } from "./Labelled";
import {
  blockGroups,
  GROUPINGS,
  withBlocks,
  type BlockGroup,
  type GroupBy,
  type PickableBlock,
} from "./pickBlocks";
import { Tick } from "./Tick";
import { t } from "./t";

interface Props {
  blocks: PickableBlock[];
  chosen: number[];
  choose: (ids: number[]) => void;
  error?: string | undefined;
}

// Fewer than these are seen at a glance.
const FEW = 12;

/** Chooses blocks of a farm: searched by name, system, supply or person, one by one or a group
 * at a time. What is chosen stays chosen while something else is searched for. */
export function BlockPicker({ blocks, chosen, choose, error }: Props) {
  const [find, setFind] = useState("");
  const [by, setBy] = useState<GroupBy>("");
  const groups = useMemo(() => blockGroups(blocks, find, by), [blocks, find, by]);
  const many = blocks.length > FEW;
  return (
    <Box as="fieldset" mb="3">
      <Text as="legend" fontSize="sm" fontWeight="500" mb="1.5" srOnly={many}>
        {t("form.blocks")}
      </Text>
      {many && (
        <Grid templateColumns={{ base: "1fr", md: "1fr 200px" }} gap="3" mb="2">
          <Line label={t("form.findBlocks")} type="search" value={find} change={setFind} />
          <Choice label={t("form.groupBy")} value={by} change={(v) => setBy(v as GroupBy)}>
            {Object.entries(GROUPINGS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </Choice>
        </Grid>
      )}
      <Box maxH="240px" overflowY="auto" borderYWidth="1px" borderColor="rule" py="2">
        {groups.length === 0 && <Text color="inkSoft">{t("form.noBlockMatches")}</Text>}
        {groups.map((group) => (
          <Group key={group.name} group={group} chosen={chosen} choose={choose} many={many} />
        ))}
      </Box>
      <Chosen blocks={blocks} chosen={chosen} choose={choose} />
      {error && (
        <Text fontSize="xs" color="rust" mt="1">
          {error}
        </Text>
      )}
    </Box>
  );
}

interface GroupProps {
  group: BlockGroup;
  chosen: number[];
  choose: (ids: number[]) => void;
  many: boolean;
}

function Group({ group, chosen, choose, many }: GroupProps) {
  const all = group.blocks.every((b) => chosen.includes(b.id));
  const count = group.blocks.length;
  return (
    <Box role="group" aria-label={group.name || t("form.blocksShown")} mb="2">
      {(group.name !== "" || many) && (
        <Box mb="1" fontWeight="600">
          <Tick
            label={`${group.name || t("form.allShown")} (${count})`}
            on={all}
            change={(on) => choose(withBlocks(chosen, group.blocks, on))}
          />
        </Box>
      )}
      <Grid
        templateColumns={{ base: "1fr 1fr", md: "repeat(3, 1fr)" }}
        gap="1.5"
        pl={group.name === "" ? "0" : "6"}
      >
        {group.blocks.map((b) => (
          <Tick
            key={b.id}
            label={b.name}
            on={chosen.includes(b.id)}
            change={(on) => choose(withBlocks(chosen, [b], on))}
          />
        ))}
      </Grid>
    </Box>
  );
}

const NAMED = 6;

/** What is chosen, also where the search hides it. */
function Chosen({ blocks, chosen, choose }: Omit<Props, "error">) {
  const names = blocks.filter((b) => chosen.includes(b.id)).map((b) => b.name);
  const beyond = names.length - NAMED;
  return (
    <Flex gap="3" align="center" mt="1.5" minH="28px" aria-live="polite">
      <Text fontSize="sm" color="inkSoft">
        {names.length === 0
          ? t("form.noBlockSelected")
          : t("form.selected", { count: names.length, slice: names.slice(0, NAMED).join(", ") })}
        {beyond > 0 && ` ${t("form.andMore", { beyond })}`}
      </Text>
      {names.length > 0 && (
        <Button size="xs" variant="outline" onClick={() => choose([])}>
          {t("form.clear")}
        </Button>
      )}
    </Flex>
  );
}
