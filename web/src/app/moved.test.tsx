// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { createMemoryRouter, RouterProvider, useLocation } from "react-router";
import { afterEach, expect, it } from "vitest";
import { Moved } from "./Moved";

afterEach(cleanup);

function Here() {
  return <p>{useLocation().pathname}</p>;
}

it.each([
  ["/f/ground/blocks", "/f/farm/blocks"],
  ["/f/ground/soils/7", "/f/farm/soils/7"],
  ["/f/ground/arrivals", "/f/farm/data-received"],
  ["/f/water/sets", "/f/irrigation/log"],
  ["/f/water/morning", "/f/irrigation/summary"],
  ["/f/water", "/f/irrigation/"],
])("%s leads to %s", async (before, now) => {
  const routes = [
    { path: ":farm/ground/*", element: <Moved section="farm" /> },
    { path: ":farm/water/*", element: <Moved section="irrigation" /> },
    { path: "*", element: <Here /> },
  ];
  render(<RouterProvider router={createMemoryRouter(routes, { initialEntries: [before] })} />);
  expect(await screen.findByText(now)).toBeTruthy();
});
