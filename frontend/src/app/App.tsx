import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { lazy, type ReactNode, Suspense } from "react";
import { createBrowserRouter, Outlet, RouterProvider } from "react-router";
import { CompareScreen } from "../screens/compare/CompareScreen";
import { RevisionScreen } from "../screens/compare/RevisionScreen";
import { LampScreen } from "../screens/lamps/LampScreen";
import { NewPlanScreen } from "../screens/new/NewPlanScreen";
import { PlanFrame } from "../screens/plan/PlanFrame";
import { PlanScreen } from "../screens/plan/PlanScreen";
import { RoundScreen } from "../screens/readings/RoundScreen";
import { RoomScreen } from "../screens/room/RoomScreen";
import { SpeciesScreen } from "../screens/species/SpeciesScreen";
import { Lost } from "./Lost";
import { NoticesProvider } from "./notices";
import { PreferencesProvider } from "./preferences";

// Seldom opened first, and large: fetched when it is wanted.
const ReadingsScreen = lazy(async () => ({
  default: (await import("../screens/readings/ReadingsScreen")).ReadingsScreen,
}));

const LogbookScreen = lazy(async () => ({
  default: (await import("../screens/logbook/LogbookScreen")).LogbookScreen,
}));
const BackupScreen = lazy(async () => ({
  default: (await import("../screens/backups/BackupScreen")).BackupScreen,
}));
const TodayScreen = lazy(async () => ({
  default: (await import("../screens/today/TodayScreen")).TodayScreen,
}));
const KeepingScreen = lazy(async () => ({
  default: (await import("../screens/keeping/KeepingScreen")).KeepingScreen,
}));
const RegisterScreen = lazy(async () => ({
  default: (await import("../screens/register/RegisterScreen")).RegisterScreen,
}));
const PracticeScreen = lazy(async () => ({
  default: (await import("../screens/practice/PracticeScreen")).PracticeScreen,
}));
const PuzzleScreen = lazy(async () => ({
  default: (await import("../screens/practice/PuzzleScreen")).PuzzleScreen,
}));

const later = (screen: ReactNode) => (
  <Suspense fallback={<main aria-busy="true" className="p-8 text-soft" />}>{screen}</Suspense>
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

const router = createBrowserRouter([
  {
    element: <Outlet />,
    errorElement: <Lost />,
    children: [
      { path: "/", element: <RoomScreen /> },
      { path: "/new", element: <NewPlanScreen /> },
      {
        path: "/plans/:planId",
        element: <PlanFrame />,
        children: [
          { index: true, element: <PlanScreen /> },
          { path: "readings", element: later(<ReadingsScreen />) },
          { path: "keeping", element: later(<KeepingScreen />) },
        ],
      },
      { path: "/plans/:planId/revisions/:number", element: <RevisionScreen /> },
      { path: "/plans/:planId/rounds/:roundId", element: <RoundScreen /> },
      { path: "/compare", element: <CompareScreen /> },
      { path: "/practice", element: later(<PracticeScreen />) },
      { path: "/practice/:puzzleId", element: later(<PuzzleScreen />) },
      { path: "/today", element: later(<TodayScreen />) },
      { path: "/logbook", element: later(<LogbookScreen />) },
      { path: "/backups", element: later(<BackupScreen />) },
      { path: "/register", element: later(<RegisterScreen />) },
      { path: "/lamps", element: <LampScreen /> },
      { path: "/species", element: <SpeciesScreen /> },
      { path: "/species/:speciesId", element: <SpeciesScreen /> },
      { path: "*", element: <Lost /> },
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
