import { useQuery } from "@tanstack/react-query";
import { Button as AriaButton, MenuTrigger, Menu, MenuItem, Popover } from "react-aria-components";
import { Link, useLocation, useNavigate } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { useSignOut } from "../Search/commands";
import { SearchBox } from "../Search/SearchBox";
import { useMay, useSession } from "../common/session";
import { Button } from "../parts/Button";
import { Mark } from "../parts/Mark";
import { stops, useSetups } from "../common/places";
import { setTheme, small, theme, unseen, type Theme } from "../parts/theme";
import { keys } from "../common/keys";

const Band = styled.header`
  height: 56px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 20px;
  @media (max-width: 1100px) {
    padding: 0 12px;
    gap: 8px;
  }
  @media (max-width: 767px) {
    height: auto;
    flex-wrap: wrap;
    padding: 8px 12px;
  }
`;

const Home = styled(Link)`
  display: flex;
  align-items: center;
  gap: 9px;
  font: 600 17px "Fraunces Variable", serif;
  letter-spacing: -0.01em;
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
  @media (max-width: 1180px) {
    span {
      display: none;
    }
  }
`;

const Way = styled.nav<{ $at: number }>`
  flex: 1;
  min-width: 0;
  position: relative;
  &::before,
  &::after {
    content: "";
    position: absolute;
    left: 0;
    top: 13px;
    height: 1px;
    width: 100%;
    background: var(--hair);
  }
  &::after {
    top: 12px;
    height: 3px;
    background: var(--ink);
    width: ${(p) => p.$at}%;
  }
  ol {
    display: flex;
    list-style: none;
    padding: 0;
    position: relative;
    z-index: 1;
  }
  li {
    flex: 1;
    min-width: 0;
  }
  @media (max-width: 767px) {
    order: 3;
    flex-basis: 100%;
    overflow-x: auto;
  }
`;

const Stop = styled(Link)`
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 2px;
  font-size: 13px;
  color: var(--soft);
  text-decoration: none;
  &:hover {
    color: var(--ink);
  }
  &[aria-current] {
    color: var(--ink);
    font-weight: 650;
  }
`;

const Bulb = styled.span<{ $lit: boolean }>`
  height: 26px;
  padding: 0 4px;
  display: grid;
  place-items: center;
  background: var(--paper);
  border-radius: 13px;
  b {
    display: block;
    ${(p) =>
      p.$lit
        ? `min-width: 24px; height: 18px; border-radius: 9px; padding: 0 6px; background: var(--lamp-wash); border: 1.5px solid var(--lamp); color: var(--lamp-ink); font-size: 12px; font-weight: 620; line-height: 15px; text-align: center; box-shadow: 0 0 0 3px color-mix(in srgb, var(--lamp) 14%, transparent);`
        : `width: 11px; height: 11px; border-radius: 50%; border: 1.5px solid var(--mark); background: var(--paper);`}
  }
`;

const Unseen = styled.span`
  ${unseen}
`;

const Face = styled(AriaButton)`
  width: 30px;
  height: 30px;
  border-radius: 50%;
  border: 0;
  background: var(--slate-wash);
  color: var(--slate);
  font-size: 12px;
  font-weight: 650;
  cursor: pointer;
`;

const Hung = styled(Popover)`
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  box-shadow: var(--float);
  padding: 6px;
  min-width: 200px;
  p {
    padding: 6px 10px;
    ${small}
  }
  [role="menuitem"] {
    padding: 6px 10px;
    font-size: 14px;
    cursor: pointer;
    border-radius: 3px;
    outline: none;
  }
  [role="menuitem"][data-focused] {
    background: var(--slate-wash);
  }
`;

/** The top band: the mark, the line with what waits at each stop, search, new lead, the person. */
export function Line({ onNew, onKeys }: { onNew: () => void; onKeys: () => void }) {
  const { pathname } = useLocation();
  const waiting = useQuery({ queryKey: keys.line, queryFn: () => must(api.GET("/api/line")), refetchInterval: 30_000 });
  const at = stops.findIndex((s) => pathname.startsWith(s.path));
  const mayCapture = useMay("workLeads");
  return (
    <Band>
      <Home to="/desk" aria-label="Dapper Lantern, to the Desk">
        <Mark /> <span>Dapper Lantern</span>
      </Home>
      <Way aria-label="The lead's way" $at={at < 0 ? 0 : ((at + 0.5) / stops.length) * 100}>
        <ol>
          {stops.map((s, i) => {
            const n = waiting.data?.[s.key] ?? 0;
            return (
              <li key={s.key}>
                <Stop to={s.path} aria-current={i === at ? "page" : undefined}>
                  <Bulb $lit={n > 0} aria-hidden>
                    <b>{n > 0 ? (n > 999 ? "999+" : n) : ""}</b>
                  </Bulb>
                  <span>
                    {s.name}
                    {n > 0 && <Unseen>, {n} waiting</Unseen>}
                  </span>
                </Stop>
              </li>
            );
          })}
        </ol>
      </Way>
      <SearchBox onNew={onNew} onKeys={onKeys} />
      {mayCapture && (
        <Button look="main" onPress={onNew}>
          New lead
        </Button>
      )}
      <PersonMenu onKeys={onKeys} />
    </Band>
  );
}

function PersonMenu({ onKeys }: { onKeys: () => void }) {
  const session = useSession();
  const navigate = useNavigate();
  const signOut = useSignOut();
  const setup = useSetups();
  const choose = async (key: string) => {
    if (key === "keys") return onKeys();
    if (key === "out") return signOut();
    const page = setup.find((s) => s.key === key);
    if (page) return navigate(page.path);
    setTheme(key as Theme);
  };
  const other: [Theme, string][] = theme() === "night" ? [["day", "Day"], ["system", "As the system"]] : [["night", "Night"], ["system", "As the system"]];
  return (
    <MenuTrigger>
      <Face aria-label={`${session.initials}: ${session.name}, menu`}>{session.initials}</Face>
      <Hung placement="bottom end">
        <p>
          {session.name}, {session.role}
        </p>
        <Menu onAction={(k) => void choose(String(k))} aria-label="Person">
          {other.map(([key, label]) => (
            <MenuItem id={key} key={key}>
              {label}
            </MenuItem>
          ))}
          {setup.map((s) => (
            <MenuItem id={s.key} key={s.key}>
              {s.label}
            </MenuItem>
          ))}
          <MenuItem id="keys">Keys</MenuItem>
          <MenuItem id="out">Sign out</MenuItem>
        </Menu>
      </Hung>
    </MenuTrigger>
  );
}
