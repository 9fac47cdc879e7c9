import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { lazy, type ReactNode, Suspense } from "react";
import { createBrowserRouter, Outlet, RouterProvider } from "react-router";
import { PlanFrame } from "../features/plan/PlanFrame";
import { PlanScreen } from "../features/plan/PlanScreen";
import { PreferencesProvider } from "../ui/preferences";
import { CommandsProvider } from "./commands";
import { ErrorPage } from "./ErrorPage";
import { Header } from "./Header";
import { NoticesProvider } from "./notices";
import { ReadOnlyBanner } from "./ReadOnlyBanner";

// Who opens a plan need not wait for the room; who opens the room fetches it with the rest.
const importRoom = () => import("../features/room/RoomScreen");
if (window.location.pathname === "/") void importRoom();
const RoomScreen = lazy(async () => ({ default: (await importRoom()).RoomScreen }));

// Begun at the enclosure, where there may be no connection: fetched once the first screen is there.
const importRound = () => import("../features/readings/RoundScreen");
const RoundScreen = lazy(async () => ({ default: (await importRound()).RoundScreen }));
const ROUND_AFTER_MS = 4000;
setTimeout(() => void importRound().catch(() => {}), ROUND_AFTER_MS);

// Seldom opened first, and large: fetched when it is wanted.
const CompareScreen = lazy(async () => ({
  default: (await import("../features/compare/CompareScreen")).CompareScreen,
}));
const RevisionScreen = lazy(async () => ({
  default: (await import("../features/compare/RevisionScreen")).RevisionScreen,
}));
const LampScreen = lazy(async () => ({
  default: (await import("../features/lamps/LampScreen")).LampScreen,
}));
const NewPlanScreen = lazy(async () => ({
  default: (await import("../features/new/NewPlanScreen")).NewPlanScreen,
}));
const SpeciesScreen = lazy(async () => ({
  default: (await import("../features/species/SpeciesScreen")).SpeciesScreen,
}));
const DesignScreen = lazy(async () => ({
  default: (await import("../features/design/DesignScreen")).DesignScreen,
}));
const ReadingsScreen = lazy(async () => ({
  default: (await import("../features/readings/ReadingsScreen")).ReadingsScreen,
}));

const LogbookScreen = lazy(async () => ({
  default: (await import("../features/logbook/LogbookScreen")).LogbookScreen,
}));
const BackupScreen = lazy(async () => ({
  default: (await import("../features/backups/BackupScreen")).BackupScreen,
}));
const TodayScreen = lazy(async () => ({
  default: (await import("../features/today/TodayScreen")).TodayScreen,
}));
const KeepingScreen = lazy(async () => ({
  default: (await import("../features/keeping/KeepingScreen")).KeepingScreen,
}));
const RegisterScreen = lazy(async () => ({
  default: (await import("../features/register/RegisterScreen")).RegisterScreen,
}));
const PracticeScreen = lazy(async () => ({
  default: (await import("../features/practice/PracticeScreen")).PracticeScreen,
}));
const PuzzleScreen = lazy(async () => ({
  default: (await import("../features/practice/PuzzleScreen")).PuzzleScreen,
}));

/** A screen that is fetched; the ways to all others are there at once, so that nothing moves when it comes. */
const later = (screen: ReactNode) => (
  <Suspense
    fallback={
      <>
        <Header />
        <main aria-busy="true" className="p-8 text-soft" />
      </>
    }
  >
    {screen}
  </Suspense>
);

const queries = new QueryClient({
  defaultOptions: {
    // "always": the program often runs on the same machine, which is reached without any network too.
    queries: {
      retry: 1,
      refetchOnWindowFocus: false,
      refetchOnReconnect: true,
      staleTime: 5000,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

const SampleScreen = lazy(async () => ({
  default: (await import("../features/welcome/SampleScreen")).SampleScreen,
}));

const HelpScreen = lazy(async () => ({
  default: (await import("../features/help/HelpScreen")).HelpScreen,
}));

const router = createBrowserRouter([
  {
    element: (
      // Beside the rail of the header.
      <div className="md:has-[[data-rail]]:pl-16 print:pl-0!">
        <CommandsProvider>
          <ReadOnlyBanner />
          <Outlet />
        </CommandsProvider>
      </div>
    ),
    errorElement: (
      <CommandsProvider>
        <ErrorPage />
      </CommandsProvider>
    ),
    children: [
      { path: "/", element: later(<RoomScreen />) },
      { path: "/help", element: later(<HelpScreen />) },
      { path: "/sample", element: later(<SampleScreen />) },
      { path: "/new", element: later(<NewPlanScreen />) },
      {
        path: "/plans/:planId",
        element: <PlanFrame />,
        children: [
          { index: true, element: <PlanScreen /> },
          { path: "design", element: later(<DesignScreen />) },
          { path: "readings", element: later(<ReadingsScreen />) },
          { path: "keeping", element: later(<KeepingScreen />) },
        ],
      },
      { path: "/plans/:planId/revisions/:number", element: later(<RevisionScreen />) },
      { path: "/plans/:planId/rounds/:roundId", element: later(<RoundScreen />) },
      { path: "/compare", element: later(<CompareScreen />) },
      { path: "/practice", element: later(<PracticeScreen />) },
      { path: "/practice/:puzzleId", element: later(<PuzzleScreen />) },
      { path: "/today", element: later(<TodayScreen />) },
      { path: "/logbook", element: later(<LogbookScreen />) },
      { path: "/backups", element: later(<BackupScreen />) },
      { path: "/register", element: later(<RegisterScreen />) },
      { path: "/lamps", element: later(<LampScreen />) },
      { path: "/species", element: later(<SpeciesScreen />) },
      { path: "/species/:speciesId", element: later(<SpeciesScreen />) },
      { path: "*", element: <ErrorPage /> },
    ],
  },
]);

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <PreferencesProvider>
        <Tooltip.Provider delayDuration={400}>
          <NoticesProvider>
            <RouterProvider router={router} />
          </NoticesProvider>
        </Tooltip.Provider>
      </PreferencesProvider>
    </QueryClientProvider>
  );
}
