import { Button, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { EVERYTHING, PARTS, valuesOf, type Part, type Wanted } from "./filter";
import type { BoardRow } from "./queries";

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
        aria-label="Find a block"
        placeholder="Find a block"
        value={wanted.find}
        onChange={(e) => change({ ...wanted, find: e.target.value })}
      />
      <NativeSelect.Root size="xs" w="150px">
        <NativeSelect.Field
          aria-label="Show only"
          bg="sheet"
          value={wanted.only}
          onChange={(e) => change({ ...wanted, only: e.target.value })}
        >
          <option value="">every block</option>
          {PART_KEYS.map((part) => (
            <optgroup key={part} label={`by ${PARTS[part]}`}>
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
          aria-label="In groups"
          bg="sheet"
          value={wanted.group}
          onChange={(e) => change({ ...wanted, group: e.target.value as Part | "" })}
        >
          <option value="">most urgent first</option>
          {PART_KEYS.map((part) => (
            <option key={part} value={part}>
              by {PARTS[part]}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {shown < rows.length && (
        <Text fontSize="sm" color="inkSoft" role="status">
          {shown} of {rows.length} blocks{" "}
          <Button
            size="xs"
            variant="plain"
            p="0"
            h="auto"
            textDecoration="underline"
            onClick={() => change(EVERYTHING)}
          >
            show all
          </Button>
        </Text>
      )}
    </Flex>
  );
}
