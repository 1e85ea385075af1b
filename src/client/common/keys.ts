/**
 * The keys of everything that is asked of the server, in one place. The first part of a key is its subject; an act says which subjects it changes (see {@link changed}), and only
 * what was asked of those is asked again.
 */
export const keys = {
  session: ["session"],
  sessions: ["sessions"],
  secondStep: ["second-step"],
  strongSignIn: ["strong-sign-in"],
  ways: ["ways"],
  provider: ["provider"],
  wayIn: (key: string) => ["way-in", key],
  demo: ["demo"],
  line: ["line"],
  desk: ["desk"],
  asks: ["asks"],
  knownCounts: ["known-counts"],
  followUps: (from: string, days: number, whose: string, zone: string) => ["follow-ups", from, days, whose, zone],
  calendar: ["calendar"],
  search: (text: string) => ["search", text],

  fields: ["fields"],
  regions: (countries: string[]) => ["regions", countries.join()],
  people: ["people"],
  pickList: (list: string) => ["pick-list", list],
  pipelines: ["pipelines"],
  products: ["products"],
  tags: ["tags"],
  purposes: ["purposes"],
  templates: ["message-templates"],
  stepPlans: ["step-plans"],
  resources: ["resources"],

  views: ["views"],
  leads: (query: unknown) => ["leads", "pages", query],
  leadsOf: (where: unknown, field: string) => ["leads", "of", where, field],
  groups: (where: unknown, rows: string | null, columns?: string | null, measure?: string) => ["leads", "groups", where, rows, columns, measure],
  viewCount: (view: string, version: number) => ["leads", "view", view, version],
  lead: (id?: string) => ["lead", id],
  decisions: (lead: string, version: number) => ["lead", lead, "routing", version],
  whyNot: (lead: string, person: string, version: number) => ["lead", lead, "why-not", person, version],
  around: (lead: string, version: number) => ["around", lead, version],
  files: (lead: string, version: number) => ["files", lead, version],
  alike: (typed: unknown) => ["alike", typed],
  fitSoFar: (facts: unknown) => ["fit-so-far", facts],
  bulkPreview: (order: unknown) => ["bulk", "preview", order],
  bulkEdits: ["bulk", "list"],
  bulkEdit: (id: string | null) => ["bulk", "one", id],

  intake: ["intake"],
  imported: (id: string) => ["import", id],
  importRows: (id: string, outcome: string | null, after: number, sifted: unknown) => ["import", id, "rows", outcome, after, sifted],
  importProblems: (id: string, counts: unknown, state: string) => ["import", id, "problems", counts, state],
  forms: ["forms"],
  form: (key: string) => ["form", key],
  formPreview: (draft: unknown, language: string) => ["form-preview", draft, language],
  backfill: (form: string, field: string) => ["backfill", form, field],
  waiting: (form?: string) => ["arrivals", "waiting", form],

  campaigns: ["campaigns"],
  campaign: (key: string) => ["campaign", key],
  members: (campaign: string, response: string | null) => ["campaign", campaign, "members", response],
  addresses: (campaign: string, purpose: string | null, response: string | null) => ["campaign", campaign, "addresses", purpose, response],

  duplicates: ["duplicates"],
  duplicate: (id?: string, keep?: string) => ["duplicates", id, keep],
  merges: ["merges"],
  odds: ["odds"],
  mergeRules: ["merge-rules"],

  scoring: ["scoring"],
  scoringEditions: ["scoring", "editions"],
  scoringTrial: (model: unknown) => ["scoring", "trial", model],
  movers: (model: unknown, from: string, to: string) => ["scoring", "movers", model, from, to],
  outcomes: (model: unknown) => ["scoring", "outcomes", model],
  suggestion: (model: unknown) => ["scoring", "suggestion", model],

  routing: ["routing"],
  staff: ["staff"],
  routingEditions: ["routing", "editions"],
  check: (sheet: unknown) => ["routing", "check", sheet],
  holes: (sheet: unknown) => ["routing", "holes", sheet],
  play: (sheet: unknown, last: number) => ["routing", "play", sheet, last],
  answers: (days: number) => ["routing", "answers", days],

  handover: ["handover"],
  handoverSheet: (lead: string, targets: unknown) => ["handover", "sheet", lead, targets],
  handoverReview: (leads: unknown, pipeline: string) => ["handover", "review", leads, pipeline],

  deals: (pipeline?: string) => ["deals", pipeline],
  dealRows: (pipeline: string | undefined, closed: boolean, stage: string | undefined, piece: number) => ["deals", "rows", pipeline, closed, stage, piece],
  deal: (id?: string) => ["deal", id],
  accounts: (q: string, kind: unknown, segment: unknown) => ["accounts", q, kind, segment],
  findAccounts: (q: string) => ["accounts", "find", q],
  account: (id?: string) => ["account", id],
  contacts: (q: string, kind: unknown) => ["contacts", q, kind],
  findContacts: (q: string, account?: string) => ["contacts", "find", q, account],
  contact: (id?: string) => ["contact", id],
  recordFacts: (kind: string, id: string) => ["record-facts", kind, id],

  reports: ["reports"],

  company: ["company"],
  mail: ["mail"],
  start: ["start"],
  backups: ["backups"],
  customFields: ["custom-fields"],
  pipelineSetups: ["pipeline-setups"],
  sources: ["sources"],
  keptLists: ["kept-lists"],
  valueUses: ["value-uses"],
  barred: ["barred"],
  person: (asked: string) => ["person", asked],
  erasures: ["erasures"],
  administeredPeople: ["administered-people"],
  roles: ["roles"],
  rights: (id: string) => ["rights", id],
  recordRights: (id: string, kind: string, record: string) => ["rights", id, kind, record],
  holdings: (person: string) => ["holdings", person],
  heldRecords: (person: string, kind: string) => ["holdings", person, kind],
  outbox: ["outbox"],
  tokens: ["tokens"],
  failed: ["failed-work"],
  log: (query: unknown) => ["log", query],
  logChoices: ["log-choices"],
} as const;

const records = ["lead", "deal", "account", "contact"];
const waits = ["line", "desk"];
const work = [...records, ...waits, "leads", "follow-ups"];
const selling = [...records, "deals", "accounts", "contacts", "record-facts"];

/** What an act may change, and the subjects whose answers are stale by it. */
const stale = {
  /** A note, a pin, a correction: nothing that is counted, ordered or waited for. */
  story: records,
  /** A call, a task, a meeting or a message: clocks and next steps. */
  work,
  /** Facts, state, owner or qualification of leads. */
  lead: [...work, "around", "bulk", "handover", "duplicates", "campaign", "search", "routing", "reports"],
  /** Tags, consent or campaigns of a lead. */
  around: ["around", "lead", "leads", "campaign", "campaigns"],
  files: ["files", ...records],
  /** A deal, an account or a contact. */
  deal: [...selling, ...waits, "follow-ups", "handover", "reports", "search"],
  /** Records merged or taken apart. */
  duplicates: [...selling, ...waits, "leads", "duplicates", "merges", "search"],
  /** Views of the worklist. */
  views: ["views", "leads"],
  arrivals: ["arrivals", "intake", "forms", "form", ...waits, "leads"],
  import: ["import", "intake", ...waits],
  forms: ["forms", "form", "backfill"],
  campaigns: ["campaigns", "campaign", "intake", "around", "reports"],
  /** Values of a list that is added to where it is needed. */
  lists: ["pick-list", "kept-lists", "value-uses", "fields", "pipelines"],
  /** Fields, sources, tags, pipelines: what pages offer to choose from. */
  setup: ["fields", "regions", "pick-list", "pipelines", "pipeline-setups", "custom-fields", "sources", "tags", "message-templates", "step-plans", "views", "leads", "lead", "around", "forms", "form", "intake", "merge-rules", "odds", "duplicates"],
  staff: ["staff", "people", "routing", "leads"],
  /** Who works here, as what. */
  people: ["administered-people", "roles", "rights", "people", "staff", "fields", "sessions", "routing", "start", "holdings", "strong-sign-in", "provider", "ways"],
  /** Records that were asked for: who has them and who sees them. */
  asks: ["asks", "known-counts", "import", ...work],
  company: ["company", "mail", "start"],
  backups: ["backups"],
  start: ["start"],
  calendar: ["calendar"],
  barred: ["barred", "line"],
  outbox: ["outbox", ...waits],
  failed: ["failed-work", ...waits],
  tokens: ["tokens"],
  sessions: ["sessions"],
  session: ["session"],
  secondStep: ["second-step"],
} satisfies Record<string, readonly string[]>;

/** What an act changes. `everything` is all but the session: an edition went live, many records changed, an import was taken in. */
export type Change = keyof typeof stale | "everything";

/** Whether an answer with this key is stale after such changes. */
export function isStale(key: readonly unknown[], changes: readonly Change[]): boolean {
  const subject = String(key[0]);
  return changes.some((c) => (c === "everything" ? subject !== "session" : (stale[c] as readonly string[]).includes(subject)));
}
