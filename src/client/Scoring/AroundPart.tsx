import styled from "styled-components";
import type { Schema } from "../api/client";
import type { Field } from "../Conditions/conditions";
import type { Finding, Model } from "./model";

/** A part of what holds for all leads. */
export const Part = styled.section`
  margin-bottom: 20px;
  h3 {
    margin-bottom: 6px;
  }
  p {
    font-size: 14px;
  }
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
    margin-bottom: 8px;
  }
  .item {
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
`;

export type AroundProps = { model: Model; words: readonly Schema["LineWords"][]; findings: readonly Finding[]; fields: Field[]; onChange?: (model: Model) => void };
