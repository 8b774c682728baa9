import { Choice } from "../form/Labelled";
import { STAGES } from "./words";
import { t } from "./t";

interface Props {
  /** One of the stages, or empty for every one. */
  value: string;
  change: (stage: string) => void;
}

/** In which stage a limit holds. */
export function StageChoice({ value, change }: Props) {
  return (
    <Choice label={t("limits.inStage")} value={value} change={change}>
      <option value="">{t("limits.everyStage")}</option>
      {STAGES.map((s) => (
        <option key={s} value={s}>
          {t(`stage.${s}`)}
        </option>
      ))}
    </Choice>
  );
}
