import { useState } from "react";
import { Form } from "react-aria-components";
import { Link, useNavigate } from "react-router";
import { api, must, type ApiError } from "../../api/client";
import { Table } from "../../parts/Bench";
import { Button } from "../../parts/Button";
import { Overlay } from "../../parts/Dialog";
import { TextBox } from "../../parts/Field";
import { whole } from "../../parts/format";
import { useMay, useRefresh } from "../../common/session";
import { useForms } from "./queries";

const states: Record<string, string> = { draft: "not published", live: "live", paused: "closed for now" };

/** The forms, with what came through them and what waits. */
export function FormList() {
  const forms = useForms();
  const may = useMay("runIntake");
  const [making, setMaking] = useState(false);
  if (!forms.data) return null;
  return (
    <section aria-label="Forms" style={{ marginBottom: 34 }}>
      <div style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
        <h2>Forms</h2>
        {may && <Button onPress={() => setMaking(true)}>New form</Button>}
      </div>
      <Table>
        <thead>
          <tr>
            <th>Form</th>
            <th>State</th>
            <th className="n">Posts in 30 days</th>
            <th className="n">Waiting</th>
          </tr>
        </thead>
        <tbody>
          {forms.data.map((f) => (
            <tr key={f.key}>
              <td>
                <Link to={`/intake/forms/${f.key}`}>{f.name}</Link>
              </td>
              <td>
                {states[f.state]}
                {f.edition ? `, edition ${f.edition}` : ""}
              </td>
              <td className="n">{whole(f.posts)}</td>
              <td className="n">{f.waiting ? <strong style={{ color: "var(--lamp-ink)" }}>{whole(f.waiting)}</strong> : "none"}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Overlay title="New form" isOpen={making} onClose={() => setMaking(false)} width={420}>
        <NewForm />
      </Overlay>
    </section>
  );
}

function NewForm() {
  const [name, setName] = useState("");
  const [error, setError] = useState<string>();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const make = async () => {
    try {
      const form = await must(api.POST("/api/forms", { body: { name } }));
      await refresh();
      void navigate(`/intake/forms/${form.key}`);
    } catch (e) {
      setError((e as ApiError).message);
    }
  };
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void make();
      }}
    >
      <TextBox label="Name" hint="For instance what it offers. Visitors see a title of its own." autoFocus value={name} onChange={setName} error={error} />
      <div style={{ marginTop: 14 }}>
        <Button look="main" type="submit" isDisabled={!name.trim()}>
          Begin
        </Button>
      </div>
    </Form>
  );
}
