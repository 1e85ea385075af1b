import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, must } from "../api/client";
import { useViews } from "../Leads/views";
import { stops } from "../common/places";
import { useSetupGroups } from "../common/places";
import { setTheme } from "../parts/theme";
import { useMay } from "../common/session";

/** Something the search box does at once. `also` are other words it goes by. */
export type Command = { id: string; label: string; group: string; also?: string; run: () => void };

/** Leaves, and forgets what was shown; the session at the identity provider ends with it, where it is to. */
export function useSignOut() {
  const queries = useQueryClient();
  return async () => {
    const next = await must(api.DELETE("/api/session"));
    queries.clear();
    location.assign(next?.address ?? "/");
  };
}

/** Every command of the signed-in person. */
export function useCommands({ onNew, onKeys }: { onNew: () => void; onKeys: () => void }): Command[] {
  const navigate = useNavigate();
  const views = useViews();
  const mayCapture = useMay("workLeads");
  const maySettle = useMay("settleDuplicates");
  const signOut = useSignOut();
  const to = (path: string) => () => void navigate(path);
  const setups = useSetupGroups().flatMap((g) => g.pages.map((p) => ({ ...p, also: `setup ${g.name} ${p.about}`.toLowerCase() })));
  return [
    ...stops.map((s) => ({ id: `go ${s.key}`, label: s.name, group: "Go to", run: to(s.path) })),
    { id: "go follow-ups", label: "Your follow-ups", group: "Go to", also: "tasks calendar day overdue meetings", run: to("/desk/follow-ups") },
    ...setups.map((s) => ({ id: `setup ${s.key}`, label: s.label, group: "Go to", also: s.also, run: to(s.path) })),
    { id: "setup", label: "Setup", group: "Go to", also: "settings configuration", run: to("/setup") },
    ...(maySettle ? [{ id: "go duplicates", label: "Possible duplicates", group: "Go to", also: "pairs merge the same twice", run: to("/leads/duplicates") }] : []),
    ...(views.data ?? []).map((v) => ({ id: `view ${v.id}`, label: v.name, group: "View", run: to(`/leads?view=${v.id}`) })),
    ...(mayCapture ? [{ id: "new", label: "New lead", group: "Do", also: "add telephone call", run: onNew }] : []),
    { id: "keys", label: "Keys", group: "Do", also: "keyboard help", run: onKeys },
    { id: "night", label: "Night", group: "Do", also: "dark theme", run: () => setTheme("night") },
    { id: "day", label: "Day", group: "Do", also: "light theme", run: () => setTheme("day") },
    { id: "out", label: "Sign out", group: "Do", also: "leave log off", run: () => void signOut() },
  ];
}
