import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useEffect, useMemo } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { isTyping } from "../app/typing";
import { useWidth } from "../draw/useWidth";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { runningTime } from "../units/format";
import { Axis } from "./Axis";
import { BoardLine, COLUMNS } from "./BoardLine";
import { EtStatement } from "./EtStatement";
import { headline, hoursDue } from "./headline";
import { useBoard } from "./queries";

/** j and k walk the lines; Enter follows the focused one, as links do. */
function useLineKeys() {
  useEffect(() => {
    function press(event: KeyboardEvent) {
      const step = { j: 1, ArrowDown: 1, k: -1, ArrowUp: -1 }[event.key];
      if (!step || isTyping(event)) return;
      const lines = [...document.querySelectorAll<HTMLElement>("a.board-line")];
      const at = lines.findIndex((l) => l === document.activeElement);
      if (at < 0 && event.key.startsWith("Arrow")) return;
      event.preventDefault();
      const next = at < 0 ? 0 : Math.min(Math.max(at + step, 0), lines.length - 1);
      lines[next]?.focus();
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}

/** The furrow board: every block on one time axis, who runs dry first on top. */
export function Board() {
  const { farm, units, may } = useSignedIn();
  const board = useBoard(farm.slug);
  const [measure, width] = useWidth();
  useLineKeys();
  const time = useMemo(
    () => (board.data ? new FarmTime(board.data.now, board.data.time_zone) : null),
    [board.data],
  );

  if (board.isPending) return <Loading what="Reading the furrows" />;
  if (board.error) return <Notice error={board.error} retry={() => void board.refetch()} />;
  if (!time) return null;
  const { rows, et, rain, rain_ahead: rainAhead } = board.data;
  const due = hoursDue(rows);

  if (rows.length === 0) {
    return (
      <Box maxW="60ch" py="10">
        <Heading as="h1" size="2xl">
          No blocks yet
        </Heading>
        <Text mt="2" mb="4">
          A block is a piece of land that is watered as one. Give it a soil, a crop and its
          equipment; then bring in readings, and its furrow appears here.
        </Text>
        {may("set_up_ground") && (
          <Button asChild>
            <Link to={`/${farm.slug}/new-block`}>Make the first block</Link>
          </Button>
        )}
      </Box>
    );
  }

  return (
    <Box maxW="1800px" mx="auto">
      <Flex justify="space-between" align="start" gap="4" wrap="wrap">
        <Box minW="0">
          <Heading as="h1" size={{ base: "lg", md: "2xl" }} fontWeight="700">
            {headline(rows)}
          </Heading>
          <Text color="inkSoft" fontSize="sm">
            {time.full(time.now)}
            {due > 0 && ` · ${runningTime(due)} of running due within a day`}
          </Text>
          <EtStatement et={et} rainAhead={rainAhead} ratio={board.data.alfalfa_ratio} />
        </Box>
        {may("set_up_ground") && (
          <Button asChild size="sm" variant="outline">
            <Link to={`/${farm.slug}/new-block`}>New block</Link>
          </Button>
        )}
      </Flex>
      <Grid
        templateColumns={COLUMNS}
        templateAreas={{ base: `"ribbon ribbon"`, md: `"name mark ribbon words"` }}
        columnGap={{ base: "2", md: "3" }}
        mt="3"
        borderBottomWidth="1px"
        borderColor="rule"
        position="sticky"
        top="0"
        bg="paper"
        zIndex="4"
      >
        <Box gridArea="ribbon" ref={measure}>
          {width > 0 && (
            <Axis width={width} time={time} rain={rain} rainAhead={rainAhead} units={units} />
          )}
        </Box>
      </Grid>
      <Box as="ul" p="0" m="0">
        {rows.map((row) => (
          <BoardLine
            key={row.id}
            row={row}
            slug={farm.slug}
            width={width}
            time={time}
            units={units}
          />
        ))}
      </Box>
      <Text color="inkSoft" fontSize="sm" mt="3">
        The band is the usable water above refill; the shaded bed is the room up to full. Left of
        now it was measured; right of it, the dark core lasts in nine cases of ten, the middle tone
        is expected, the pale rim is hoped for. Cracks: past refill. Box: the set proposed. ▼ water
        given.
      </Text>
    </Box>
  );
}
