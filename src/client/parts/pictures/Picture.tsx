import { useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { flushSync } from "react-dom";
import styled from "styled-components";
import { small } from "../theme";

const Figure = styled.figure`
  margin: 0;
  min-width: 0;
  svg {
    display: block;
    width: 100%;
    overflow: visible;
  }
  text {
    font: 12px "Hanken Grotesk Variable", system-ui, sans-serif;
    font-variant-numeric: tabular-nums;
    fill: var(--soft);
  }
  text.strong {
    fill: var(--ink);
    font-weight: 600;
  }
  a text {
    text-decoration: underline;
    text-decoration-color: var(--hair);
  }
  @media (forced-colors: active) {
    rect,
    path,
    circle {
      forced-color-adjust: none;
    }
  }
`;

const Data = styled.details`
  margin-top: 4px;
  font-size: 13px;
  overflow-x: auto;
  summary {
    ${small}
    cursor: pointer;
    min-height: 24px;
  }
  table {
    border-collapse: collapse;
  }
  th,
  td {
    padding: 3px 16px 3px 0;
    text-align: left;
    border-bottom: 1px solid var(--hair);
  }
  td + td {
    text-align: right;
  }
`;

/** The numbers a picture shows: a heading for each column, a row each. */
export type PictureTable = { head: readonly string[]; rows: readonly (readonly ReactNode[])[] };

type Props = {
  /** Says what the picture shows, for those who do not see it. */
  label: string;
  /** In pixels; the width is that of the place. */
  height: number;
  /** Without one the caller shows the same numbers beside the picture. */
  table?: PictureTable;
  /** True where parts of the picture are pressed: then it is a group of things and not one image. */
  isPressed?: boolean;
  children: (width: number) => ReactNode;
};

const usual = 640;

/** The frame of every picture: as wide as its place, named in words, with its numbers as a table behind a press. */
export function Picture({ label, height, table, isPressed, children }: Props) {
  const box = useRef<HTMLElement>(null);
  const [width, setWidth] = useState(usual);
  useLayoutEffect(() => {
    const place = box.current!;
    if (typeof ResizeObserver === "undefined") return;
    // Told before the picture is seen, and without laying the page out for it alone.
    const watch = new ResizeObserver(() => place.clientWidth > 0 && flushSync(() => setWidth(place.clientWidth)));
    watch.observe(place);
    return () => watch.disconnect();
  }, []);
  return (
    <Figure ref={box}>
      <svg height={height} viewBox={`0 0 ${width} ${height}`} role={isPressed ? "group" : "img"} aria-label={label}>
        {children(width)}
      </svg>
      {table && <AsTable {...table} label={label} />}
    </Figure>
  );
}

function AsTable({ head, rows, label }: PictureTable & { label: string }) {
  return (
    <Data>
      <summary>As a table</summary>
      <table aria-label={label}>
        <thead>
          <tr>
            {head.map((h, i) => (
              <th key={i} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, j) => (
                <td key={j}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Data>
  );
}
