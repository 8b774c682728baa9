import { Button, Grid } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { exactFigure, M3_H_PER_L_S, measure, typed } from "../units/format";
import { useWaterBlocks } from "../water/queries";
import { useRemoveValve, useSaveValve, type Controller, type Valve } from "./queries";
import { t } from "./t";

interface Props {
  valve: Valve | null;
  controllers: Controller[];
  close: () => void;
}

/** A valve as it is described: where it hangs, what it waters, the flow it should have. */
export function ValveSheet({ valve, controllers, close }: Props) {
  const { farm, units } = useSignedIn();
  const blocks = useWaterBlocks(farm.slug, true);
  const save = useSaveValve(farm.slug, valve?.id ?? null);
  const remove = useRemoveValve(farm.slug);
  const [name, setName] = useState(valve?.name ?? "");
  const [controller, setController] = useState(
    String(valve?.controller_id ?? controllers[0]?.id ?? ""),
  );
  const [number, setNumber] = useState(String(valve?.number ?? ""));
  const [block, setBlock] = useState(valve?.block_id ? String(valve.block_id) : "");
  const [flow, setFlow] = useState(
    valve?.expected_ls ? exactFigure(valve.expected_ls * M3_H_PER_L_S, units, "flow") : "",
  );
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const problems = { ...problemsOf(save.error), ...wrong };
  const send = () => {
    const m3h = typed(flow, units, "flow");
    const bad: Record<string, string> = {};
    if (!Number.isInteger(Number(number)) || Number(number) < 1)
      bad["number"] = t("valves.enterNumber");
    if (flow.trim() !== "" && !(m3h !== null && m3h > 0))
      bad["expected_ls"] = t("valves.enterFlow");
    setWrong(bad);
    if (Object.keys(bad).length > 0) return;
    save.mutate(
      {
        name,
        controller_id: Number(controller),
        number: Number(number),
        block_id: block ? Number(block) : null,
        expected_ls: m3h === null ? null : m3h / M3_H_PER_L_S,
      },
      { onSuccess: close },
    );
  };
  return (
    <FormSheet
      title={valve ? t("valves.changeValve", { valve: valve.name }) : t("valves.newValve")}
      close={close}
      save={send}
      words={t("valves.save")}
      pending={save.isPending}
      other={
        valve && (
          <Button
            variant="ghost"
            size="sm"
            color="rust"
            loading={remove.isPending}
            onClick={() => remove.mutate(valve.id, { onSuccess: close })}
          >
            {t("valves.remove")}
          </Button>
        )
      }
    >
      <Grid gap="3">
        <Line label={t("valves.name")} value={name} change={setName} error={problems["name"]} />
        <Choice label={t("valves.controller")} value={controller} change={setController}>
          {controllers.map((c) => (
            <option key={c.id} value={String(c.id)}>
              {c.name}
            </option>
          ))}
        </Choice>
        <Line
          label={t("valves.output")}
          value={number}
          change={setNumber}
          numeric
          error={problems["number"]}
        />
        <Choice
          label={t("valves.block")}
          value={block}
          change={setBlock}
          error={problems["block_id"]}
          help={t("valves.blockHelp")}
        >
          <option value="">{t("valves.noBlock")}</option>
          {blocks.data?.map((b) => (
            <option key={b.id} value={String(b.id)}>
              {b.name}
            </option>
          ))}
        </Choice>
        <Line
          label={t("valves.expectedFlow")}
          value={flow}
          change={setFlow}
          unit={measure(units, "flow").label}
          numeric
          error={problems["expected_ls"]}
          help={t("valves.flowHelp")}
        />
      </Grid>
      {save.error && Object.keys(problemsOf(save.error)).length === 0 && (
        <Notice error={save.error} />
      )}
      {remove.error && <Notice error={remove.error} />}
    </FormSheet>
  );
}
