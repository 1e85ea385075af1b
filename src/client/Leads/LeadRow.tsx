import type React from "react";
import { Checkbox, GridListItem, type GridListItemProps } from "react-aria-components";
import styled from "styled-components";
import { ClockBar } from "../parts/ClockBar";
import { Lamp } from "../parts/Lamp";
import { small } from "../parts/theme";
import type { Field } from "../Conditions/conditions";
import { CellOf, Move, Owner } from "./Cells";
import type { Item } from "./columns";
import type { Work } from "./work";

const Row = styled(GridListItem)<{ $template: string; $dense: boolean }>`
  display: grid;
  grid-template-columns: ${(p) => p.$template};
  gap: 14px;
  align-items: center;
  height: ${(p) => (p.$dense ? 34 : 60)}px;
  padding: 0 18px;
  border-bottom: 1px solid var(--hair);
  cursor: pointer;
  outline: none;
  font-size: ${(p) => (p.$dense ? 14 : 15)}px;
  [role="gridcell"] > div {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  b {
    font-weight: 610;
  }
  b,
  small {
    display: ${(p) => (p.$dense ? "inline" : "block")};
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    ${small}
    ${(p) => p.$dense && "margin-left: 8px;"}
  }
  &[data-hovered] {
    background: color-mix(in srgb, var(--sheet) 60%, var(--paper));
  }
  &[data-pressed],
  &[data-selected] {
    background: var(--sheet);
    box-shadow: inset 4px 0 0 var(--slate);
  }
  &[data-focus-visible] {
    outline: 2px solid var(--slate);
    outline-offset: -3px;
  }
` as React.ComponentType<GridListItemProps & { $template: string; $dense: boolean }>;

const Tick = styled(Checkbox)`
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  span {
    width: 16px;
    height: 16px;
    border: 1.5px solid var(--mark);
    border-radius: 2px;
    display: grid;
    place-items: center;
  }
  &[data-selected] span {
    background: var(--slate);
    border-color: var(--slate);
  }
  &[data-selected] span::after {
    content: "";
    width: 8px;
    height: 4px;
    border: solid var(--paper);
    border-width: 0 0 2px 2px;
    transform: rotate(-45deg) translate(1px, -1px);
  }
  &[data-focus-visible] span {
    outline: 2px solid var(--slate);
    outline-offset: 2px;
  }
`;

const Right = styled.small`
  text-align: right;
`;

const narrow = "32px minmax(0, 1fr) 82px 78px";

type RowProps = { lead: Item; work: Work; fields: Field[]; wide: boolean; dense: boolean; template: string; ticking: boolean; zone: string };

/** A lead in the list: wide with its columns, narrow behind an open lead or on a phone. */
export function LeadRow({ lead, work, fields, wide, dense, template: columns, ticking, zone }: RowProps) {
  const company = lead.company === lead.name ? null : lead.company;
  return (
    <Row id={lead.id} textValue={lead.name} $template={wide ? columns : narrow} $dense={dense}>
      {ticking && (
        <Tick slot="selection">
          <span aria-hidden />
        </Tick>
      )}
      <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
      <div>
        <b>{lead.name}</b>
        <small>{wide ? company : [company, lead.sourceName].filter(Boolean).join(" · ")}</small>
      </div>
      {wide ? (
        work.columns.map((c) => <CellOf key={c.field} lead={lead} field={fields.find((f) => f.key === c.field)} of={c.field} zone={zone} />)
      ) : (
        <>
          <Move lead={lead} />
          <div>
            <Right>
              <Owner lead={lead} />
            </Right>
            <ClockBar clock={lead.clock} />
          </div>
        </>
      )}
    </Row>
  );
}
