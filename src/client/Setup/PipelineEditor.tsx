import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { currencies } from "../parts/currencies";
import { TextBox } from "../parts/Field";
import { Block, Columns } from "../parts/Layout";
import { ListedBox } from "../parts/ListedBox";
import { QuestionRows } from "./QuestionRows";
import { StageRows } from "./StageRows";
import { ThresholdText } from "./ThresholdText";

type Setup = Schema["PipelineSetup"];


/** One pipeline: what it and its deals are called, when a lead is qualified for it, and its stages. */
export function PipelineEditor({ pipeline, all }: { pipeline: Setup; all: Schema["PipelineSetups"] }) {
  const { name, nameForm, currency, questions, threshold, stages } = pipeline;
  const form = useForm({ called: `the pipeline ${name}`, name: `pipeline:${pipeline.key}:${pipeline.version}`, initial: { name, nameForm, currency, questions, threshold, stages, usualDays: String(pipeline.usualDays) } });
  const keep = () =>
    form.send(
      async ({ usualDays, ...body }) =>
        must(
          api.PUT("/api/setup/pipelines/{key}", {
            params: { path: { key: pipeline.key } },
            headers: { "If-Match": `"${pipeline.version}"` },
            body: { ...body, usualDays: Math.round(await numberOf(usualDays, "usualDays")) },
          }),
        ),
      { changes: ["setup", "deal"], words: `${form.values.name} is kept.` },
    );
  const places = all.places.map((p) => `{${p.key}}`).join(" ");
  return (
    <Block $width={980}>
      <FormBox form={form} words={`Keep ${form.values.name}`} onSend={keep}>
        <Columns $of="1fr 2fr 130px 110px">
          <TextBox label="Name" {...form.bind("name")} />
          <TextBox label="Deals are called" {...form.bind("nameForm")} hint={`Places: ${places} and the keys of fields.`} />
          <NumberText label="Usual days to close" {...form.bind("usualDays")} />
          <ListedBox label="Currency" {...form.bind("currency")} options={currencies} />
        </Columns>
        <section>
          <h2>Qualified when</h2>
          <ThresholdText {...form.bind("threshold")} questions={form.values.questions} />
        </section>
        <section>
          <h2>Questions of its own</h2>
          <QuestionRows {...form.bind("questions")} />
        </section>
        <section>
          <h2>Stages</h2>
          <StageRows {...form.bind("stages")} needs={all.needs} errorOf={(i) => form.said(`stages.${i}`)} />
        </section>
      </FormBox>
    </Block>
  );
}
