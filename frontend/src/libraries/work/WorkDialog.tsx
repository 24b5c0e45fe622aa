import { useJobs } from "../../api";
import { DialogFrame } from "../../ui";
import { RerenderWork } from "./RerenderWork";
import { openWork, useWorkDialog } from "./workStore";

/** The long work that was opened. */
export function WorkDialog() {
  const jobId = useWorkDialog((state) => state.jobId);
  const job = useJobs().data?.find(({ id }) => id === jobId);
  const close = () => openWork(null);
  return (
    <DialogFrame
      open={jobId !== null}
      onClose={close}
      title={job?.title ?? "Render again"}
      width="max-w-[900px]"
    >
      {jobId !== null && <RerenderWork key={jobId} jobId={jobId} onClose={close} />}
    </DialogFrame>
  );
}
