import { lazy, Suspense } from "react";
import { createBrowserRouter, Navigate } from "react-router";
import { Failed } from "./Failed";
import { Loading } from "./Loading";
import { Moved } from "./Moved";
import { NotFound } from "./NotFound";
import { Shell } from "./Shell";
import { useSignedIn } from "../session/context";
import { t } from "./t";

const loadBoard = () => import("../board/Board");
const Board = lazy(async () => ({ default: (await loadBoard()).Board }));
// Who is at a farm's page is signed in as a rule: fetched beside the session, not after it.
if (location.pathname !== "/") void loadBoard();

function Home() {
  const { farm } = useSignedIn();
  return <Navigate to={`/${farm.slug}`} replace />;
}

export const router = createBrowserRouter([
  {
    path: "/join",
    errorElement: <Failed />,
    hydrateFallbackElement: <Loading what={t("app.opening")} />,
    lazy: async () => ({ Component: (await import("../people/JoinPage")).JoinPage }),
  },
  {
    path: "/",
    element: <Shell />,
    errorElement: <Failed />,
    hydrateFallbackElement: <Loading what={t("app.opening")} />,
    children: [
      { index: true, element: <Home /> },
      {
        path: ":farm",
        element: (
          <Suspense fallback={<Loading what={t("app.loadingTheBoard")} />}>
            <Board />
          </Suspense>
        ),
      },
      {
        path: ":farm/new-block",
        lazy: async () => ({ Component: (await import("../setup/BlockSetup")).NewBlock }),
      },
      {
        path: ":farm/blocks/:block",
        lazy: async () => ({ Component: (await import("../block/BlockPage")).BlockPage }),
      },
      {
        path: ":farm/blocks/:block/setup",
        lazy: async () => ({ Component: (await import("../setup/BlockSetup")).ChangeBlock }),
      },
      {
        path: ":farm/blocks/:block/readings",
        lazy: async () => ({ Component: (await import("../readings/ReadingsPage")).ReadingsPage }),
      },
      {
        path: ":farm/blocks/:block/limits",
        lazy: async () => ({ Component: (await import("../limits/LimitsPage")).LimitsPage }),
      },
      {
        path: ":farm/blocks/:block/seasons",
        lazy: async () => ({ Component: (await import("../seasons/SeasonsPage")).SeasonsPage }),
      },
      {
        path: ":farm/blocks/:block/history",
        lazy: async () => ({ Component: (await import("../history/HistoryPage")).HistoryPage }),
      },
      {
        path: ":farm/blocks/:block/history/:advice",
        lazy: async () => ({
          Component: (await import("../history/PastAdvicePage")).PastAdvicePage,
        }),
      },
      {
        path: ":farm/irrigation",
        lazy: async () => ({
          Component: (await import("../water/IrrigationPages")).IrrigationPages,
        }),
        children: [
          { index: true, element: <Navigate to="log" replace /> },
          {
            path: "run-sheet",
            lazy: async () => ({
              Component: (await import("../runsheet/RunSheetPage")).RunSheetPage,
            }),
          },
          {
            path: "jobs",
            lazy: async () => ({ Component: (await import("../jobs/JobsPage")).JobsPage }),
          },
          {
            path: "valves",
            lazy: async () => ({ Component: (await import("../valves/ValvesPage")).ValvesPage }),
          },
          {
            path: "log",
            lazy: async () => ({ Component: (await import("../water/SetsPage")).SetsPage }),
          },
          {
            path: "weather",
            lazy: async () => ({ Component: (await import("../weather/WeatherPage")).WeatherPage }),
          },
          {
            path: "summary",
            lazy: async () => ({ Component: (await import("../summary/SummaryPage")).SummaryPage }),
          },
        ],
      },
      {
        path: ":farm/blocks/:block/catch-cans",
        lazy: async () => ({ Component: (await import("../irrigation/CatchCans")).CatchCans }),
      },
      {
        path: ":farm/farm",
        lazy: async () => ({ Component: (await import("../farm/FarmPages")).FarmPages }),
        children: [
          { index: true, element: <Navigate to="blocks" replace /> },
          {
            path: "blocks",
            lazy: async () => ({ Component: (await import("../farm/BlockList")).BlockList }),
          },
          {
            path: "map",
            lazy: async () => ({ Component: (await import("../map/MapPage")).MapPage }),
          },
          {
            path: "water-supply",
            lazy: async () => ({ Component: (await import("../supply/SupplyPage")).SupplyPage }),
          },
          {
            path: "soils",
            lazy: async () => ({ Component: (await import("../soils/SoilList")).SoilList }),
          },
          {
            path: "crops",
            lazy: async () => ({ Component: (await import("../crops/CropList")).CropList }),
          },
          {
            path: "instruments",
            lazy: async () => ({
              Component: (await import("../instruments/InstrumentList")).InstrumentList,
            }),
          },
          {
            path: "loggers",
            lazy: async () => ({ Component: (await import("../devices/LoggerList")).LoggerList }),
          },
          {
            path: "files",
            lazy: async () => ({ Component: (await import("../imports/FileList")).FileList }),
          },
          {
            path: "siting",
            lazy: async () => ({
              Component: (await import("../siting/SitingOverview")).SitingOverview,
            }),
          },
          {
            path: "findings",
            lazy: async () => ({
              Component: (await import("../findings/FindingsPage")).FindingsPage,
            }),
          },
          {
            path: "people",
            lazy: async () => ({ Component: (await import("../people/PeopleList")).PeopleList }),
          },
          {
            path: "change-history",
            lazy: async () => ({ Component: (await import("../changes/ChangesPage")).ChangesPage }),
          },
          {
            path: "data-received",
            lazy: async () => ({ Component: (await import("../devices/ArrivalList")).ArrivalList }),
          },
          {
            path: "crops/:crop",
            lazy: async () => ({ Component: (await import("../crops/CropPage")).CropPage }),
          },
        ],
      },
      {
        path: ":farm/blocks/:block/siting",
        lazy: async () => ({ Component: (await import("../siting/SitingPage")).SitingPage }),
      },
      {
        path: ":farm/blocks/:block/siting/layers/:layer",
        lazy: async () => ({ Component: (await import("../siting/CleanPage")).CleanPage }),
      },
      {
        path: ":farm/blocks/:block/instrument-choice",
        lazy: async () => ({
          Component: (await import("../siting/KindChoicePage")).KindChoicePage,
        }),
      },
      {
        path: ":farm/spots/:spot",
        lazy: async () => ({ Component: (await import("../siting/SpotPage")).SpotPage }),
      },
      {
        path: ":farm/find-spot",
        lazy: async () => ({ Component: (await import("../siting/FindSpotPage")).FindSpotPage }),
      },
      {
        path: ":farm/layer-files/:file",
        lazy: async () => ({ Component: (await import("../siting/LayerFilePage")).LayerFilePage }),
      },
      {
        path: ":farm/files/:import",
        lazy: async () => ({ Component: (await import("../imports/ImportPage")).ImportPage }),
      },
      {
        path: ":farm/rounds",
        lazy: async () => ({ Component: (await import("../rounds/RoundList")).RoundList }),
      },
      {
        path: ":farm/rounds/:round",
        lazy: async () => ({ Component: (await import("../rounds/WalkPage")).WalkPage }),
      },
      {
        path: ":farm/instruments/:instrument",
        lazy: async () => ({
          Component: (await import("../instruments/InstrumentPage")).InstrumentPage,
        }),
      },
      {
        path: ":farm/instruments/:instrument/calibration",
        lazy: async () => ({
          Component: (await import("../calibration/CalibrationPage")).CalibrationPage,
        }),
      },
      {
        path: ":farm/farm/soils/:soil",
        lazy: async () => ({ Component: (await import("../soils/SoilEditor")).SoilEditor }),
      },
      // Addresses of before, in bookmarks and mail.
      { path: ":farm/ground/*", element: <Moved section="farm" /> },
      { path: ":farm/water/*", element: <Moved section="irrigation" /> },
      { path: "*", element: <NotFound /> },
    ],
  },
]);
