import { useQuery } from "@tanstack/react-query";
import { Navigate } from "react-router";
import { openSample } from "../../api/client";
import { ErrorPage } from "../../app/ErrorPage";
import { describe } from "../../app/notices";
import { Opening } from "../plan/PlanFrame";

/** Opens the sample enclosure, which is stored when it is opened for the first time. */
export function SampleScreen() {
  const sample = useQuery({ queryKey: ["sample-plan"], queryFn: openSample, gcTime: 0 });
  if (sample.isError) return <ErrorPage {...describe(sample.error)} />;
  return sample.data ? <Navigate to={`/plans/${sample.data.id}`} replace /> : <Opening />;
}
