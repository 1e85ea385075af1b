import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { small } from "../parts/theme";
import { useSettled } from "../parts/useSettled";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
  max-height: 220px;
  overflow: auto;
  button {
    width: 100%;
    text-align: left;
    border: 0;
    background: none;
    padding: 5px 6px;
    font-size: 14px;
    cursor: pointer;
    border-radius: 3px;
  }
  button:hover,
  button:focus-visible {
    background: var(--slate-wash);
  }
  small {
    ${small}
    display: block;
  }
`;

type Found = { id: string; name: string; line?: string | null };
type Props = { label: string; onFound: (id: string, name: string) => void; onLeave: () => void };

function Finder({ label, onFound, onLeave, found, sought, onSeek }: Props & { found: Found[]; sought: string; onSeek: (text: string) => void }) {
  return (
    <div style={{ marginTop: 6 }}>
      <TextBox label={label} value={sought} onChange={onSeek} autoFocus onKeyDown={(e) => e.key === "Escape" && onLeave()} />
      <List aria-label={label}>
        {found.slice(0, 12).map((f) => (
          <li key={f.id}>
            <button type="button" onClick={() => onFound(f.id, f.name)}>
              {f.name}
              {f.line && <small>{f.line}</small>}
            </button>
          </li>
        ))}
      </List>
      {sought && found.length === 0 && <p style={{ fontSize: 13, color: "var(--soft)" }}>Nobody by that name.</p>}
      <Button look="quiet" onPress={onLeave}>
        Leave it
      </Button>
    </div>
  );
}

/** Finds a contact by name or mail; those of an account first, before anything is written. */
export function ContactFinder({ account, ...props }: Props & { account?: string }) {
  const [sought, setSought] = useState("");
  const q = useSettled(sought, 200);
  const found = useQuery({
    queryKey: ["contacts", "find", q, q ? undefined : account],
    enabled: !!q || !!account,
    queryFn: () => must(api.GET("/api/contacts", { params: { query: { q, account: q ? undefined : account } } })),
  });
  return <Finder {...props} sought={sought} onSeek={setSought} found={(found.data?.contacts ?? []).map((c) => ({ id: c.id, name: c.name, line: [c.jobTitle, c.accountName].filter(Boolean).join(", ") }))} />;
}

/** Finds an account by its name. */
export function AccountFinder(props: Props) {
  const [sought, setSought] = useState("");
  const q = useSettled(sought, 200);
  const found = useQuery({ queryKey: ["accounts", "find", q], enabled: !!q, queryFn: () => must(api.GET("/api/accounts", { params: { query: { q } } })) });
  return <Finder {...props} sought={sought} onSeek={setSought} found={(found.data?.accounts ?? []).map((a) => ({ id: a.id, name: a.name, line: [a.city, a.country].filter(Boolean).join(", ") }))} />;
}
