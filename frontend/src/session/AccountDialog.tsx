import { useState } from "react";
import { resultOf, api, useEnter, useSession, useVersion } from "../api";
import { Button, DialogFrame, Leaves } from "../ui";
import { PeopleSection } from "./PeopleSection";
import { PasswordForm } from "./PasswordForm";
import { SignInList } from "./SignInList";
import { TokenSection } from "./TokenSection";

const LEAVES = ["Account", "Tokens", "People"] as const;

/** One's own account: password, tokens for programs; for administrators the accounts of all. */
export function AccountDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const account = useSession().data?.account;
  const enter = useEnter();
  const version = useVersion(open);
  const [leaf, setLeaf] = useState<(typeof LEAVES)[number]>("Account");
  if (!account) return null;
  const leaves = LEAVES.filter((one) => one !== "People" || account.administrator);
  return (
    <DialogFrame open={open} onClose={onClose} title={account.name} wide>
      <div className="mb-4">
        <Leaves label="Account" leaves={leaves} chosen={leaf} onChoose={setLeaf} />
      </div>
      {leaf === "Account" && (
        <>
          <PasswordForm handle={account.handle} />
          <SignInList />
        </>
      )}
      {leaf === "Tokens" && <TokenSection />}
      {leaf === "People" && <PeopleSection />}
      <div className="mt-4 flex items-center justify-between border-t border-line pt-3">
        <Button onClick={() => void resultOf(api.DELETE("/api/session")).then(enter)}>
          Sign out
        </Button>
        {version.data && (
          <span className="text-[12px] text-ink-2">
            Nest Crate {version.data.version}, engine {version.data.engine_version}
          </span>
        )}
        <Button look="action" onClick={onClose}>
          Done
        </Button>
      </div>
    </DialogFrame>
  );
}
