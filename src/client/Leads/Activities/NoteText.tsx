import { Fragment } from "react";
import { readNote, type Piece } from "./note";

/** A note as it is meant: strong and slanted words, lists, links. */
export function NoteText({ text }: { text: string }) {
  return (
    <>
      {readNote(text).map((line, i) => (
        <Fragment key={i}>
          {i > 0 && "\n"}
          {line.item && "• "}
          {line.pieces.map((p, j) => (
            <Part key={j} piece={p} />
          ))}
        </Fragment>
      ))}
    </>
  );
}

function Part({ piece }: { piece: Piece }) {
  if (piece.href)
    return (
      <a href={piece.href} target="_blank" rel="noopener noreferrer">
        {piece.text}
      </a>
    );
  if (piece.look === "strong") return <strong>{piece.text}</strong>;
  return piece.look === "slanted" ? <em>{piece.text}</em> : piece.text;
}
