import { Choice } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { useCrops } from "./queries";
import { t } from "./t";

interface Props {
  label?: string;
  value: string;
  change: (key: string) => void;
  error?: string | undefined;
  none?: string;
}

/** The crops to choose from: the farm's own first, then the book by group. */
export function CropChoice({
  label = t("crops.crop"),
  value,
  change,
  error,
  none = t("crops.chooseACrop"),
}: Props) {
  const { farm } = useSignedIn();
  const crops = useCrops(farm.slug).data ?? [];
  const own = crops.filter((c) => c.own);
  const book = crops.filter((c) => !c.own);
  const groups = [...new Set(book.map((c) => c.group))];
  return (
    <Choice label={label} value={value} change={change} error={error}>
      <option value="">{none}</option>
      {own.length > 0 && (
        <optgroup label={t("crops.theFarmsOwn")}>
          {own.map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </optgroup>
      )}
      {groups.map((group) => (
        <optgroup key={group} label={group}>
          {book
            .filter((c) => c.group === group)
            .map((c) => (
              <option key={c.key} value={c.key}>
                {c.name}
              </option>
            ))}
        </optgroup>
      ))}
    </Choice>
  );
}
