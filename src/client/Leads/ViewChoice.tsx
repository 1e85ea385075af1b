import { Button as Press, Header, ListBoxSection, Select, SelectValue } from "react-aria-components";
import styled from "styled-components";
import { useMay } from "../common/session";
import { Float, Menu, MenuItem } from "../parts/Field";
import { whole } from "../parts/format";
import { small } from "../parts/theme";
import { useViewCount } from "./queries";
import type { View } from "./views";

/** A line of words about the view. */
export const ViewRow = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
  margin-bottom: 4px;
  min-height: 34px;
  .react-aria-Select {
    display: inline-block;
  }
  & > button {
    font-weight: 450;
    font-size: 13px;
  }
`;

const Name = styled(Press)`
  display: inline-flex;
  align-items: center;
  gap: 7px;
  padding: 2px 0;
  border: 0;
  background: none;
  font-weight: 640;
  font-size: 14px;
  cursor: pointer;
  &::after {
    content: "";
    border: 4px solid transparent;
    border-top-color: var(--soft);
    margin-top: 4px;
  }
  .react-aria-SelectValue[data-placeholder] {
    font-style: italic;
    font-weight: 450;
  }
`;

const Section = styled(Header)`
  ${small}
  padding: 8px 10px 2px;
`;

const Counted = styled.span`
  color: var(--soft);
  font-weight: 400;
  margin-left: 8px;
`;

const scopes = [
  { key: "fixed", label: "Fixed" },
  { key: "shared", label: "Shared" },
  { key: "personal", label: "My own" },
];

type Props = { view?: View; views: View[]; onOpen: (view: View) => void };

/** One of the views, by who sees them, each with how many leads it holds. */
export function ViewChoice({ view, views, onOpen }: Props) {
  const shown = scopes.map((s) => ({ ...s, of: views.filter((v) => v.scope === s.key) })).filter((s) => s.of.length > 0);
  return (
    <Select aria-label="View" selectedKey={view?.id ?? null} onSelectionChange={(id) => onOpen(views.find((v) => v.id === id)!)} placeholder="not a kept view">
      <Name>
        <SelectValue>{({ defaultChildren, isPlaceholder }) => (isPlaceholder ? defaultChildren : view?.name)}</SelectValue>
      </Name>
      <Float>
        <Menu>
          {shown.map((s) => (
            <ListBoxSection key={s.key} id={s.key}>
              <Section>{s.label}</Section>
              {s.of.map((v) => (
                <MenuItem key={v.id} id={v.id} textValue={v.name}>
                  {v.name}
                  <Count view={v} />
                </MenuItem>
              ))}
            </ListBoxSection>
          ))}
        </Menu>
      </Float>
    </Select>
  );
}

/** How many leads a view holds, once the list of views is open. */
function Count({ view }: { view: View }) {
  const count = useViewCount(view, useMay("seeLeads"));
  return count.data ? <Counted>{count.data.estimated ? `about ${whole(count.data.all)}` : whole(count.data.all)}</Counted> : null;
}
