import { Refusal } from "../api/client";
import { fieldOf, type BlockForm } from "./form";

/** What the form holds as text. */
export type TextName = {
  [Name in keyof BlockForm]: BlockForm[Name] extends string ? Name : never;
}[keyof BlockForm];

/** The block's form, how it is changed, and what is wrong with it by the form's own fields. */
export interface BlockFields {
  form: BlockForm;
  set: (changes: Partial<BlockForm>) => void;
  errors: Record<string, string>;
}

/** What an input of the form is given. */
export function input({ form, set, errors }: BlockFields, name: TextName) {
  return {
    value: form[name],
    change: (value: string) => set({ [name]: value }),
    error: errors[name],
  };
}

/** What the server found wrong, by the form's fields. */
export function errorsOf(error: unknown): Record<string, string> {
  if (!(error instanceof Refusal)) return {};
  return Object.fromEntries(error.problems.map((p) => [fieldOf(p.field), p.message]));
}
