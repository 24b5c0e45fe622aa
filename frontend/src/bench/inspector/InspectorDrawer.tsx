import { Drawer } from "../../ui";
import { closeChecks, useChecksOpen } from "../judging";
import { setInspectorDrawer, useInspectorDrawer } from "./drawerStore";

/** Where the inspector and the checks over it stand: beside the lanes, or in a drawer. */
export function InspectorDrawer({ children }: { children: React.ReactNode }) {
  const open = useInspectorDrawer((state) => state.open);
  const checks = useChecksOpen((state) => state.open);
  const close = () => {
    setInspectorDrawer(false);
    closeChecks();
  };
  return (
    <Drawer
      side="right"
      open={open || checks}
      onClose={close}
      closeLabel="Close inspector"
      className="relative min-h-0 narrow:w-[312px]"
    >
      {children}
    </Drawer>
  );
}
