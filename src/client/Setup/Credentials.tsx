import { TextBox } from "../parts/Field";

export type Typed = { name: string; password: string };

type Props = { typed: Typed; onType: (typed: Typed) => void; error?: string; autoFocus?: boolean };

/** Name and password, as browsers and password safes know them. */
export function Credentials({ typed, onType, error, autoFocus }: Props) {
  return (
    <>
      <TextBox label="Name or email address" value={typed.name} onChange={(name) => onType({ ...typed, name })} autoComplete="username" name="name" autoFocus={autoFocus} />
      <TextBox label="Password" type="password" value={typed.password} onChange={(password) => onType({ ...typed, password })} autoComplete="current-password" name="password" error={error} />
    </>
  );
}
