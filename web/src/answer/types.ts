import type { Schemas } from "../api/client";

/** What is said of a block, as board and block page share it. */
export type Answer = Schemas["AnswerOut"];
export type State = Schemas["State"];
export type Question = Schemas["QuestionOut"];
export type Reason = Answer["reasons"][number];
