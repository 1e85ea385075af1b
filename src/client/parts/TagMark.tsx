import styled from "styled-components";

const Mark = styled.span<{ $colour: string }>`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  padding: 1px 8px 1px 10px;
  border-radius: 3px;
  border-left: 4px solid var(--${(p) => p.$colour});
  background: var(--slate-wash);
  font-size: 13px;
  white-space: nowrap;
  button {
    border: 0;
    background: none;
    padding: 0 2px;
    cursor: pointer;
    color: var(--soft);
    min-width: 24px;
    min-height: 24px;
  }
`;

/** A tag with the colour of its edge; told by its word, not by its colour. */
export function TagMark({ tag, onRemove }: { tag: { name: string; colour: string }; onRemove?: () => void }) {
  return (
    <Mark $colour={tag.colour}>
      {tag.name}
      {onRemove && (
        <button type="button" aria-label={`Take ${tag.name} off`} onClick={onRemove}>
          ×
        </button>
      )}
    </Mark>
  );
}
