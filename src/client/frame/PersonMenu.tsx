import { Button, MenuTrigger, Menu, MenuItem, Popover } from "react-aria-components";
import { useNavigate } from "react-router";
import styled from "styled-components";
import { useSession } from "../common/session";
import { setTheme, small, theme, type Theme } from "../parts/theme";
import { useSignOut } from "../Search/commands";
import { Face, faceOf } from "./Face";

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

/** The person at work: how the pages look, the set-up pages allowed to them, and the way out. */
export function PersonMenu({ onKeys, isOpen }: { onKeys: () => void; /** Pressed before it was there. */ isOpen: boolean }) {
  const session = useSession();
  const navigate = useNavigate();
  const signOut = useSignOut();
  const choose = async (key: string) => {
    if (key === "keys") return onKeys();
    if (key === "out") return signOut();
    if (key.startsWith("/")) return navigate(key);
    setTheme(key as Theme);
  };
  const other: [Theme, string][] = theme() === "night" ? [["day", "Day"], ["system", "As the system"]] : [["night", "Night"], ["system", "As the system"]];
  return (
    <MenuTrigger defaultOpen={isOpen}>
      <Face as={Button} {...faceOf(session)} />
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
          <MenuItem id="/setup/sessions">You and your sessions</MenuItem>
          <MenuItem id="/setup">Setup</MenuItem>
          <MenuItem id="keys">Keys</MenuItem>
          <MenuItem id="out">Sign out</MenuItem>
        </Menu>
      </Hung>
    </MenuTrigger>
  );
}
