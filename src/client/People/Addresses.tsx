import styled from "styled-components";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { moment } from "../parts/format";
import { Block } from "../parts/Layout";
import { Text } from "../parts/Words";
import type { Invited } from "./SeveralForm";

const Mono = styled.td`
  font: 12px/1.4 "DejaVu Sans Mono", monospace;
  overflow-wrap: anywhere;
`;

/** The one-time addresses of several people, shown this once, to be printed and handed over. */
export function Addresses({ invited }: { invited: readonly Invited[] }) {
  const { timeZone } = useSession();
  return (
    <Block $below={6} role="status">
      <Text $below={2}>
        <strong>Addresses to come in by.</strong> Each opens once, until {moment(invited[0]!.link.endsAt, timeZone)}, and is shown this once. <Button onPress={() => window.print()}>Print them</Button>
      </Text>
      <DataTable label="Addresses to come in by" head={["Name", "Address"]}>
        {invited.map((p) => (
          <tr key={p.id}>
            <td>{p.name}</td>
            <Mono>{p.link.address}</Mono>
          </tr>
        ))}
      </DataTable>
    </Block>
  );
}
