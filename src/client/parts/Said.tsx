import styled from "styled-components";
type Finding = { blocks: boolean; words?: string | null };

const Line = styled.p`
  font-size: 13px;
  margin: 4px 0;
  padding-left: 10px;
  border-left: 3px solid var(--lamp);
  &[data-blocks] {
    border-left-color: var(--bad);
    color: var(--bad);
  }
`;

/** What is to be said next to a line: what keeps it from going live, and what is likely not meant. */
export function Said({ findings }: { findings: readonly Finding[] }) {
  return findings.map((f, i) => (
    <Line key={i} data-blocks={f.blocks || undefined}>
      {f.words}
    </Line>
  ));
}
