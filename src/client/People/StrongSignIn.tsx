import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { keys } from "../common/keys";
import { Block } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { Hint, Title } from "../parts/Words";

type Strong = Schema["StrongSignInView"];
type Roles = Schema["PeopleView"]["roles"];

/** Which roles may do nothing without a second step at the sign-in. */
export function StrongSignIn({ roles }: { roles: Roles }) {
  const strong = useQuery({ queryKey: keys.strongSignIn, queryFn: () => must(api.GET("/api/setup/strong-sign-in")) });
  return (
    <Block $above={8} $width={620}>
      <Title $below={2}>Second step at the sign-in</Title>
      <Hint>A code or a passkey beside the password. Who has to and has none yet makes one at the next press, and can do nothing else before.</Hint>
      {strong.data && <Form key={strong.data.roles.join()} strong={strong.data} roles={roles} />}
    </Block>
  );
}

function Form({ strong, roles }: { strong: Strong; roles: Roles }) {
  const form = useForm({ called: "who has to", initial: { roles: strong.roles as string[] }, asks: false });
  const keep = () => form.send((values) => must(api.PUT("/api/setup/strong-sign-in", { body: { roles: values.roles as Strong["roles"] } })), { changes: ["people", "session"], words: "Kept." });
  const options = roles.map((r) => ({ key: r.key, label: strong.without[r.key] ? `${r.label} (${strong.without[r.key]} without)` : r.label }));
  return (
    <FormBox form={form} words="Keep" look="plain" onSend={keep}>
      <Ticks label="Roles that have to" options={options} {...form.bind("roles")} />
    </FormBox>
  );
}
