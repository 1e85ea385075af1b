import { useCallback, useEffect, useState } from "react";
import { Outlet, useLocation } from "react-router";
import styled from "styled-components";
import { onSecondStep, onSignedOut } from "../api/client";
import { useLater } from "../common/later";
import { useNotices } from "../common/notices";
import { stops } from "../common/places";
import { useRefresh } from "../common/refresh";
import { SessionContext, useSessionQuery, type Session } from "../common/session";
import { keepFocus } from "../parts/focus";
import { setForm } from "../parts/form";
import { ErrorNote, Skeleton } from "../parts/States";
import { forgetErrors } from "../parts/Toast";
import { Keys, NewLead, SecondStepNeeded, SignIn, SignInAgain } from "./later";
import { Leaving } from "./Leaving";
import { Line } from "./Line";
import { SkipLinks } from "./SkipLinks";
import { useKeys } from "./useKeys";

const Page = styled.div`
  height: 100%;
  display: flex;
  flex-direction: column;
  @media print {
    height: auto;
    display: block;
  }
`;

/** The line on top, the bench below; asks first for the signed-in person. */
export function Frame() {
  const session = useSessionQuery();
  if (session.isPending) return <Skeleton rows={3} />;
  if (session.isError) return <ErrorNote error={session.error} />;
  if (!session.data) return <SignIn />;
  if (session.data.needsSecondStep) return <SecondStepNeeded session={session.data} />;
  return <Signed session={session.data} />;
}

function Signed({ session }: { session: Session }) {
  const { pathname } = useLocation();
  const [open, setOpen] = useState<"lead" | "keys" | null>(null);
  const [lost, setLost] = useState(false);
  const openNew = useCallback(() => setOpen("lead"), []);
  const openKeys = useCallback(() => setOpen("keys"), []);
  useEffect(() => onSignedOut(() => setLost(true)), []);
  const refresh = useRefresh();
  useEffect(() => onSecondStep(() => void refresh(["session"])), [refresh]);
  useLater();
  useEffect(keepFocus, []);
  useEffect(forgetErrors, [pathname]);
  useNotices(!lost);
  useKeys({ onNew: session.may.includes("workLeads") ? openNew : undefined, onKeys: openKeys });
  useEffect(() => {
    const here = stops.find((s) => pathname.startsWith(s.path));
    document.title = here ? `${here.name} · Dapper Lantern` : "Dapper Lantern";
  }, [pathname]);
  setForm({ zone: session.timeZone, dates: session.dates });
  return (
    <SessionContext value={session}>
      <SkipLinks />
      <Page>
        <Line onNew={openNew} onKeys={openKeys} />
        <Outlet />
      </Page>
      {open === "lead" && <NewLead isOpen onClose={() => setOpen(null)} />}
      {open === "keys" && <Keys isOpen onClose={() => setOpen(null)} />}
      <Leaving />
      {lost && <SignInAgain person={session} onDone={() => setLost(false)} />}
    </SessionContext>
  );
}
