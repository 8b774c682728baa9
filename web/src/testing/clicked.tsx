import { render } from "@testing-library/react";
import userEvent, { type UserEvent } from "@testing-library/user-event";
import { useState, type ReactNode } from "react";
import { vi } from "vitest";
import { ANYWHERE, Around, type Known } from "./shown";

/** What was sent to the server: "POST /api/farms/f/people" with its body. */
export interface Sent {
  what: string;
  body: unknown;
}

interface Clicked {
  user: UserEvent;
  sent: Sent[];
}

/** What the server answers: a body, or a status and a body. */
export type Answers = Record<string, unknown>;

export class Refused {
  constructor(
    readonly status: number,
    readonly body: unknown,
  ) {}
}

/**
 * A view to be clicked: what a person does in it, and what is sent by that. Answers are by what is
 * sent; what none is given for is a fault of the test.
 */
export function clicked(view: ReactNode, answers: Answers = {}, known: Known = []): Clicked {
  const sent: Sent[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const what = `${request.method} ${new URL(request.url).pathname}`;
    const text = await request.text();
    sent.push({ what, body: text ? JSON.parse(text) : null });
    const answer = answers[what];
    if (answer === undefined) throw new Error(`no answer to ${what}`);
    const refused = answer instanceof Refused ? answer : null;
    return Response.json(refused ? refused.body : answer, { status: refused?.status ?? 200 });
  });
  render(
    <Around units="metric" may known={known} at={ANYWHERE}>
      {view}
    </Around>,
  );
  return { user: userEvent.setup(), sent };
}

/** Holds the value of an input, as a page does, and tells it. */
export function Holding(props: {
  start: string;
  children: (value: string, change: (value: string) => void) => ReactNode;
}) {
  const [value, change] = useState(props.start);
  return (
    <>
      {props.children(value, change)}
      <output>{value}</output>
    </>
  );
}
