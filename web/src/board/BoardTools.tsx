import { Button, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { EVERYTHING, PARTS, valuesOf, type Part, type Wanted } from "./filter";
import type { BoardRow } from "./queries";
import { t } from "./t";

interface Props {
  rows: BoardRow[];
  shown: number;
  wanted: Wanted;
  change: (wanted: Wanted) => void;
}

const PART_KEYS = Object.keys(PARTS) as Part[];

/** Narrows the board down and puts it in groups. */
export function BoardTools({ rows, shown, wanted, change }: Props) {
  return (
    <Flex gap="2" align="center" wrap="wrap" mt="2">
      <Input
        id="find-block"
        size="xs"
        w="150px"
        bg="sheet"
        type="search"
        aria-label={t("board.findABlock")}
        placeholder={t("board.findABlock")}
        value={wanted.find}
        onChange={(e) => change({ ...wanted, find: e.target.value })}
      />
      <NativeSelect.Root size="xs" w="150px">
        <NativeSelect.Field
          aria-label={t("board.showOnly")}
          bg="sheet"
          value={wanted.only}
          onChange={(e) => change({ ...wanted, only: e.target.value })}
        >
          <option value="">{t("board.allBlocks")}</option>
          {PART_KEYS.map((part) => (
            <optgroup key={part} label={t("board.by", { part: PARTS[part] })}>
              {valuesOf(rows, part).map((value) => (
                <option key={value} value={`${part}:${value}`}>
                  {value}
                </option>
              ))}
            </optgroup>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <NativeSelect.Root size="xs" w="130px">
        <NativeSelect.Field
          aria-label={t("board.group")}
          bg="sheet"
          value={wanted.group}
          onChange={(e) => change({ ...wanted, group: e.target.value as Part | "" })}
        >
          <option value="">{t("board.mostUrgentFirst")}</option>
          {PART_KEYS.map((part) => (
            <option key={part} value={part}>
              {t("board.by", { part: PARTS[part] })}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {shown < rows.length && (
        <Text fontSize="sm" color="inkSoft" role="status">
          {t("board.ofBlocks", { shown, count: rows.length })}{" "}
          <Button
            size="xs"
            variant="plain"
            p="0"
            h="auto"
            textDecoration="underline"
            onClick={() => change(EVERYTHING)}
          >
            {t("board.showAll")}
          </Button>
        </Text>
      )}
    </Flex>
  );
}
