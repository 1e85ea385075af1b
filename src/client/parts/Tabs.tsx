import styled from "styled-components";

const Row = styled.nav`
  display: flex;
  gap: 20px;
  margin-bottom: 14px;
`;

const Tab = styled.button`
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  padding: 2px 0;
  font-size: 14px;
  color: var(--soft);
  cursor: pointer;
  &[aria-current="page"] {
    color: var(--ink);
    font-weight: 620;
    border-bottom-color: var(--ink);
  }
`;

type Props<K extends string> = { label: string; tabs: readonly { key: K; label: string }[]; at: K; onChoose: (key: K) => void };

/** The parts of one screen, of which one is shown. */
export function Tabs<K extends string>({ label, tabs, at, onChoose }: Props<K>) {
  return (
    <Row aria-label={label}>
      {tabs.map((t) => (
        <Tab key={t.key} type="button" aria-current={t.key === at ? "page" : undefined} onClick={() => onChoose(t.key)}>
          {t.label}
        </Tab>
      ))}
    </Row>
  );
}
