import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useState } from "react";
import { errorText, type JobItem, useJobActions, useJobs } from "../../api";
import { Button } from "../../ui";
import { jobWords } from "./jobWords";
import { openWork } from "./workStore";

/** One's own long work: how far it is, and a way back to it. Nothing where there is none. */
export function WorkMenu() {
  const jobs = useJobs().data ?? [];
  if (jobs.length === 0) return null;
  const running = jobs.filter(({ state }) => state === "running");
  const done = running.reduce((sum, job) => sum + job.done + job.failed, 0);
  const of = running.reduce((sum, job) => sum + job.of, 0);
  return (
    <Popover className="relative">
      <PopoverButton className="figure inline-flex min-h-8 items-center gap-2 rounded-control border border-line-strong bg-sheet px-2.5 whitespace-nowrap hover:bg-band">
        <span className="font-sans">Jobs</span>
        {running.length > 0 ? (
          <>
            <progress aria-label="Jobs" value={done} max={Math.max(1, of)} className="h-1.5 w-16" />
            {done} of {of}
          </>
        ) : (
          jobs.length
        )}
      </PopoverButton>
      {/* Where it stands in the page, the tab key goes through it by itself. */}
      <PopoverPanel className="absolute top-full right-0 z-30 mt-1 w-[420px] rounded-card border border-line-strong bg-sheet p-1 text-[12.5px]">
        {({ close }) => (
          <ul aria-label="Jobs">
            {jobs.map((job) => (
              <WorkRow
                key={job.id}
                job={job}
                onOpen={() => {
                  close();
                  openWork(job.id);
                }}
              />
            ))}
          </ul>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function WorkRow({ job, onOpen }: { job: JobItem; onOpen: () => void }) {
  const { stop, discard } = useJobActions();
  const [problem, setProblem] = useState<string | null>(null);
  const attempt = (what: (id: number) => Promise<void>) => {
    what(job.id).catch((error: unknown) => setProblem(errorText(error)));
  };
  return (
    <li className="flex items-center gap-1 border-t border-line py-1 pl-2 first:border-t-0">
      <div className="min-w-0 flex-1">
        <p className="truncate font-medium">{job.title}</p>
        <p className="figure truncate text-[12px] text-ink-2">{problem ?? jobWords(job)}</p>
      </div>
      {job.state === "running" ? (
        <Button look="quiet" onClick={() => attempt(stop)}>
          Stop
        </Button>
      ) : (
        <Button look="quiet" onClick={() => attempt(discard)}>
          Discard
        </Button>
      )}
      <Button onClick={onOpen}>Open</Button>
    </li>
  );
}
