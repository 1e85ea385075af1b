import { Link } from "react-router";
import type { Schema } from "../api/client";
import { Fold } from "../parts/Fold";
import { day, money } from "../parts/format";
import { Unbroken } from "../parts/Words";
import { Entry } from "./directory";

type Account = Schema["AccountSheet"];

/** The people of an account, each under the one they report to. */
export const AccountPeople = ({ account }: { account: Account }) => (
  <Fold title={`People, ${account.contacts.length}`} open>
    {account.contacts.map((c) => (
      <Entry key={c.id} $depth={c.depth}>
        <span>
          <Link to={`/deals/contacts/${c.id}`}>{c.name}</Link>
          <small>{[c.jobTitle, c.former && "was here once"].filter(Boolean).join(", ")}</small>
          <small>{c.email}</small>
        </span>
      </Entry>
    ))}
  </Fold>
);

/** The deals of an account, with when they close or closed. */
export const AccountDeals = ({ account }: { account: Account }) => (
  <Fold title={`Deals, ${account.deals.length}`} open>
    {account.deals.map((d) => (
      <Entry key={d.id}>
        <span>
          <Link to={`/deals/${d.id}`}>{d.name}</Link>
          <small>{d.closedAt ? `closed ${day(d.closedAt)}` : `expected ${day(d.expectedClose)}${d.late ? ", late" : ""}`}</small>
        </span>
        <Unbroken>{money(d.amount, d.currency)}</Unbroken>
      </Entry>
    ))}
  </Fold>
);

/** The campaigns that reached people of an account. */
export const AccountCampaigns = ({ account }: { account: Account }) =>
  account.campaigns.length > 0 ? (
    <Fold title="Campaigns">
      {account.campaigns.map((c) => (
        <Entry key={c.key}>
          <Link to={`/intake/campaigns/${c.key}`}>{c.name}</Link>
          <span>{c.people === 1 ? "one person" : `${c.people} people`}</span>
        </Entry>
      ))}
    </Fold>
  ) : null;
