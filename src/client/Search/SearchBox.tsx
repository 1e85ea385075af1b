import { useMemo, useState, type KeyboardEvent } from "react";
import { ComboBox, Header, Input, ListBox, ListBoxItem, ListBoxSection, Popover, type Key } from "react-aria-components";
import { useNavigate } from "react-router";
import styled from "styled-components";
import { useOpenList } from "../parts/openList";
import { small } from "../parts/theme";
import { searchBox } from "./box";
import { useCommands, type Command } from "./commands";
import { commandsFor } from "./fitting";
import { useSearch, type Hit } from "./queries";

const Box = styled(ComboBox)`
  ${searchBox}
  &:focus-within {
    width: 240px;
  }
  @media (max-width: 1180px) {
    &:focus-within {
      width: 180px;
    }
  }
  &:focus-within kbd {
    display: none;
  }
` as typeof ComboBox;

const Hung = styled(Popover)`
  width: 420px;
  max-width: calc(100vw - 24px);
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  box-shadow: var(--float);
`;

const List = styled(ListBox)`
  max-height: min(560px, 78vh);
  overflow: auto;
  padding: 6px;
  outline: none;
` as typeof ListBox;

const Section = styled(Header)`
  ${small}
  padding: 8px 10px 2px;
`;

const Line = styled(ListBoxItem)`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px 12px;
  padding: 6px 10px;
  border-radius: 3px;
  cursor: pointer;
  outline: none;
  font-size: 14px;
  & > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small,
  i {
    ${small}
    font-style: normal;
  }
  small {
    grid-column: 1 / -1;
  }
  &[data-focused] {
    background: var(--slate-wash);
  }
` as typeof ListBoxItem;

const kinds: Record<string, string> = { lead: "Lead", contact: "Contact", account: "Account", deal: "Deal", note: "Note" };

const ways: Record<string, string> = { deal: "deals", contact: "deals/contacts", account: "deals/accounts" };
const opens = (hit: Hit) => (hit.opensId ? `/${ways[hit.opens ?? ""] ?? "leads"}/${hit.opensId}` : null);

/** One box for everything: people, companies, deals, notes, telephone numbers, and commands. Enter takes the first. */
export function SearchBox({ typed, isIn, ...props }: { onNew: () => void; onKeys: () => void; /** What was typed before it stood, and whether the focus was there. */ typed: string; isIn: boolean }) {
  const navigate = useNavigate();
  const [text, setText] = useState(typed);
  const [box, opened] = useOpenList<HTMLInputElement>();
  const all = useCommands(props);
  const { hits, meant, current } = useSearch(text);
  const commands = useMemo(() => commandsFor(all, text).slice(0, 5), [all, text]);
  const list = () => void navigate(`/leads?text=${encodeURIComponent(text.trim())}`);
  const leave = () => {
    setText("");
    box.current?.blur();
  };
  const take = (key: Key | null) => {
    if (key === null) return;
    const hit = hits.find((h) => `${h.kind} ${h.id}` === key);
    const command = commands.find((c) => c.id === key);
    if (key === "list") list();
    else if (command) command.run();
    else if (hit && opens(hit)) void navigate(opens(hit)!);
    leave();
  };
  // Nothing pointed at: the best that was found, where it was found for what stands there now; else the list of leads.
  const enter = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.key !== "Enter" || e.currentTarget.getAttribute("aria-activedescendant") || !text.trim()) return;
    e.preventDefault();
    e.stopPropagation();
    const best = current ? hits.find((h) => opens(h)) : undefined;
    if (best) take(`${best.kind} ${best.id}`);
    else if (current && commands[0]) take(commands[0].id);
    else {
      list();
      leave();
    }
  };
  return (
    <Box aria-label="Search" onOpenChange={opened} menuTrigger="input" defaultFilter={() => true} allowsEmptyCollection allowsCustomValue inputValue={text} onInputChange={setText} selectedKey={null} onSelectionChange={take}>
      <Input ref={box} id="find" placeholder="Search" autoComplete="off" autoFocus={isIn} onKeyDownCapture={enter} />
      <kbd aria-hidden>/</kbd>
      <Hung placement="bottom end">
        {/* It hangs beside the page, and is a part of its own to readers. */}
        <section aria-label="Found by the search">
          <List renderEmptyState={() => <Section as="p">{text.trim() ? "looking …" : "Names, companies, email, telephone numbers, notes; or what to do."}</Section>}>
            {text.trim() && current && hits.length === 0 && (
              <Line id="nothing" textValue="nothing" isDisabled>
                <small>Nothing found by these words.</small>
              </Line>
            )}
            {hits.length > 0 && <Found hits={hits} meant={meant} />}
            {commands.length > 0 && <Commands commands={commands} />}
            {text.trim() && (
              <Line id="list" textValue={text}>
                <span>Leads with “{text.trim()}”, as a list</span>
              </Line>
            )}
          </List>
        </section>
      </Hung>
    </Box>
  );
}

function Found({ hits, meant }: { hits: Hit[]; meant: string[] }) {
  return (
    <ListBoxSection id="found">
      <Section>{meant.length > 0 ? `Found, also by ${meant.join(", ")}` : "Found"}</Section>
      {hits.map((hit) => (
        <Line key={`${hit.kind} ${hit.id}`} id={`${hit.kind} ${hit.id}`} textValue={hit.title}>
          <b>{hit.title}</b>
          <i>{kinds[hit.kind]}</i>
          <small>{hit.detail}</small>
        </Line>
      ))}
    </ListBoxSection>
  );
}

function Commands({ commands }: { commands: Command[] }) {
  return (
    <ListBoxSection id="commands">
      <Section>Go and do</Section>
      {commands.map((c) => (
        <Line key={c.id} id={c.id} textValue={c.label}>
          <span>{c.label}</span>
          <i>{c.group}</i>
        </Line>
      ))}
    </ListBoxSection>
  );
}
