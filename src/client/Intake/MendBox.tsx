import { useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";

const Form = styled.form`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  align-items: end;
  max-width: 420px;
  margin: 4px 0;
`;

/** One value put right: Enter keeps it; what is wrong with it is said beside it. */
export function MendBox({ label, value = "", onPut }: { label: string; value?: string; onPut: (value: string) => Promise<string | undefined> }) {
  const [text, setText] = useState(value);
  const [error, setError] = useState<string>();
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void onPut(text).then(setError);
      }}
    >
      <TextBox label={label} value={text} onChange={setText} error={error} />
      <Button type="submit">Put right</Button>
    </Form>
  );
}
