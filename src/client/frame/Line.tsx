import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Search } from "../Search/Search";
import { keys } from "../common/keys";
import { useMay, useSession } from "../common/session";
import { Button } from "../parts/Button";
import { Mark } from "../parts/Mark";
import { stops } from "../common/places";
import { Unseen } from "../parts/Layout";
import { Person } from "./Person";

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

const Demo = styled.span`
  flex: none;
  padding: 1px 7px;
  border: 1.5px dashed var(--lamp);
  border-radius: 3px;
  color: var(--lamp-ink);
  font-size: 12px;
  font-weight: 620;
`;

/** Stands on every page of the demo. */
const DemoMark = () => (
  <Demo title="The company and its people are invented, and nothing leaves this machine.">
    Demo<Unseen>: the company and its people are invented, and nothing leaves this machine</Unseen>
  </Demo>
);

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

/** The top band: the mark, the line with what waits at each stop, search, new lead, the person. */
export function Line({ onNew, onKeys }: { onNew: () => void; onKeys: () => void }) {
  const { pathname } = useLocation();
  const waiting = useQuery({ queryKey: keys.line, queryFn: () => must(api.GET("/api/line")), refetchInterval: 30_000 });
  const at = stops.findIndex((s) => pathname.startsWith(s.path));
  const mayCapture = useMay("workLeads");
  const { isDemo } = useSession();
  return (
    <Band>
      <Home to="/desk" aria-label="Dapper Lantern, to the Desk">
        <Mark /> <span>Dapper Lantern</span>
      </Home>
      {isDemo && <DemoMark />}
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
      <Search onNew={onNew} onKeys={onKeys} />
      {mayCapture && (
        <Button look="main" onPress={onNew}>
          New lead
        </Button>
      )}
      <Person onKeys={onKeys} />
    </Band>
  );
}
