import { useEffect, useState } from "react";
import { Outlet, useLocation, useNavigate } from "react-router";
import styled from "styled-components";
import { Line } from "./parts/Line";
import { stops } from "./parts/places";
import { Keys } from "./parts/Keys";
import { Skeleton, ErrorNote } from "./parts/States";
import { forgetErrors, undoLast } from "./parts/Toast";
import { NewLead } from "./Leads/NewLead";
import { setZone } from "./parts/format";
import { SessionContext, useSessionQuery } from "./Setup/session";
import { useNotices } from "./Setup/notices";
import { SignIn, SignInAgain } from "./Setup/SignIn";
import { onSignedOut } from "./api/client";

const Page = styled.div`
  height: 100%;
  display: flex;
  flex-direction: column;
`;

const typing = (target: EventTarget | null) => target instanceof HTMLElement && !!target.closest("input, textarea, select, [contenteditable], [role=dialog], [role=listbox]");

/** The line on top, the bench below; asks who one is first. */
export function Frame() {
  const session = useSessionQuery();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [open, setOpen] = useState<"lead" | "keys" | null>(null);

  const [lost, setLost] = useState(false);
  useEffect(() => onSignedOut(() => setLost(true)), []);
  useEffect(forgetErrors, [pathname]);
  useNotices(!!session.data && !lost);
  const mayCapture = !!session.data?.may.includes("workLeads");
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const held = e.ctrlKey || e.metaKey;
      const write = typing(e.target);
      const stop = stops[Number(e.key) - 1];
      if ((held && e.key === "k") || (!held && !write && e.key === "/")) {
        e.preventDefault();
        document.getElementById("find")?.focus();
      } else if (write || e.altKey) {
        return;
      } else if (held) {
        if (e.key === "z" && undoLast()) e.preventDefault();
      } else if (stop) {
        void navigate(stop.path);
      } else if (e.key === "n" && mayCapture) {
        e.preventDefault();
        setOpen("lead");
      } else if (e.key === "?") {
        setOpen("keys");
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [navigate, mayCapture]);

  useEffect(() => {
    const here = stops.find((s) => pathname.startsWith(s.path));
    document.title = here ? `${here.name} · Dapper Lantern` : "Dapper Lantern";
  }, [pathname]);

  if (session.isPending) return <Skeleton rows={3} />;
  if (session.isError) return <ErrorNote error={session.error} />;
  if (!session.data) return <SignIn />;
  setZone(session.data.timeZone);
  return (
    <SessionContext value={session.data}>
      <Page>
        <Line onNew={() => setOpen("lead")} onKeys={() => setOpen("keys")} />
        <Outlet />
      </Page>
      <NewLead isOpen={open === "lead"} onClose={() => setOpen(null)} />
      <Keys isOpen={open === "keys"} onClose={() => setOpen(null)} />
      {lost && <SignInAgain person={session.data} onDone={() => setLost(false)} />}
    </SessionContext>
  );
}
