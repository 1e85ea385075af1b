import { createBrowserRouter, Navigate, useParams } from "react-router";
import { Frame } from "./Frame";
import { useSession } from "../common/session";
import { ErrorNote } from "../parts/States";

/** An address that was renamed leads on to the new one, so that kept links work. */
function Moved({ to }: { to: string }) {
  const { id } = useParams();
  return <Navigate to={id ? `${to}/${id}` : to} replace />;
}

/** The Desk; while the company is being set up for the first time, that is where its administrator goes on. */
function Home() {
  return <Navigate to={useSession().begins ? "/setup/start" : "/desk"} replace />;
}

const broken = <ErrorNote error={new Error("This page could not be shown. Reload it; nothing you saved is lost.")} />;

/** Each screen is a chunk of its own; the first load is the frame. */
export const router = createBrowserRouter([
  { path: "/way-in", errorElement: broken, HydrateFallback: () => null, lazy: async () => ({ Component: (await import("../People/WayIn")).WayIn }) },
  {
    path: "/",
    element: <Frame />,
    HydrateFallback: () => null,
    errorElement: broken,
    children: [
      { index: true, element: <Home /> },
      { path: "desk", lazy: async () => ({ Component: (await import("../Desk/DeskPage")).DeskPage }) },
      { path: "desk/follow-ups", lazy: async () => ({ Component: (await import("../FollowUps/FollowUpsPage")).FollowUpsPage }) },
      { path: "desk/asked", lazy: async () => ({ Component: (await import("../Rights/AskedPage")).AskedPage }) },
      { path: "intake", lazy: async () => ({ Component: (await import("../Intake/IntakePage")).IntakePage }) },
      { path: "intake/waiting", lazy: async () => ({ Component: (await import("../Intake/Forms/WaitingPage")).WaitingPage }) },
      { path: "intake/forms/:form", lazy: async () => ({ Component: (await import("../Intake/Forms/FormPage")).FormPage }) },
      { path: "intake/campaigns/:campaign", lazy: async () => ({ Component: (await import("../Campaigns/CampaignPage")).CampaignPage }) },
      { path: "intake/:id", lazy: async () => ({ Component: (await import("../Intake/SievePage")).SievePage }) },
      { path: "leads/duplicates/:id?", lazy: async () => ({ Component: (await import("../Matching/DuplicatesPage")).DuplicatesPage }) },
      { path: "leads/twins/:id?", element: <Moved to="/leads/duplicates" /> },
      { path: "leads/:id?", lazy: async () => ({ Component: (await import("../Leads/LeadsPage")).LeadsPage }) },
      { path: "scoring", lazy: async () => ({ Component: (await import("../Scoring/ScoringPage")).ScoringPage }) },
      { path: "routing", lazy: async () => ({ Component: (await import("../Routing/RoutingPage")).RoutingPage }) },
      { path: "handover/:id?", lazy: async () => ({ Component: (await import("../Handover/HandoverPage")).HandoverPage }) },
      { path: "deals/accounts/:id?", lazy: async () => ({ Component: (await import("../Deals/AccountsPage")).AccountsPage }) },
      { path: "deals/contacts/:id?", lazy: async () => ({ Component: (await import("../Deals/ContactsPage")).ContactsPage }) },
      { path: "deals/:id?", lazy: async () => ({ Component: (await import("../Deals/DealsPage")).DealsPage }) },
      { path: "reports", lazy: async () => ({ Component: (await import("../Reports/ReportsPage")).ReportsPage }) },
      { path: "setup", lazy: async () => ({ Component: (await import("../Setup/SetupHome")).SetupHome }) },
      { path: "setup/company", lazy: async () => ({ Component: (await import("../Company/CompanyPage")).CompanyPage }) },
      { path: "setup/mail", lazy: async () => ({ Component: (await import("../Company/MailPage")).MailPage }) },
      { path: "setup/start/:step?", lazy: async () => ({ Component: (await import("../Starting/StartPage")).StartPage }) },
      { path: "setup/backups", lazy: async () => ({ Component: (await import("../Backups/BackupsPage")).BackupsPage }) },
      { path: "setup/pipelines", lazy: async () => ({ Component: (await import("../Setup/PipelinesPage")).PipelinesPage }) },
      { path: "setup/sources", lazy: async () => ({ Component: (await import("../Setup/SourcesPage")).SourcesPage }) },
      { path: "setup/tags", lazy: async () => ({ Component: (await import("../Setup/TagsPage")).TagsPage }) },
      { path: "setup/barred", lazy: async () => ({ Component: (await import("../Setup/BarredPage")).BarredPage }) },
      { path: "setup/persons", lazy: async () => ({ Component: (await import("../Setup/PersonsPage")).PersonsPage }) },
      { path: "setup/people", lazy: async () => ({ Component: (await import("../People/PeoplePage")).PeoplePage }) },
      { path: "setup/people/:id/rights", lazy: async () => ({ Component: (await import("../People/RightsPage")).RightsPage }) },
      { path: "setup/provider", lazy: async () => ({ Component: (await import("../People/ProviderPage")).ProviderPage }) },
      { path: "setup/lists", lazy: async () => ({ Component: (await import("../Setup/ListsPage")).ListsPage }) },
      { path: "setup/roles", lazy: async () => ({ Component: (await import("../People/RolesPage")).RolesPage }) },
      { path: "setup/people/:id/handing", lazy: async () => ({ Component: (await import("../Handing/HandingPage")).HandingPage }) },
      { path: "setup/fields", lazy: async () => ({ Component: (await import("../Setup/FieldsPage")).FieldsPage }) },
      { path: "setup/matching", lazy: async () => ({ Component: (await import("../Setup/MatchingPage")).MatchingPage }) },
      { path: "setup/templates", lazy: async () => ({ Component: (await import("../Setup/TemplatesPage")).TemplatesPage }) },
      { path: "setup/sent", lazy: async () => ({ Component: (await import("../Setup/SentPage")).SentPage }) },
      { path: "setup/sessions", lazy: async () => ({ Component: (await import("../Setup/SessionsPage")).SessionsPage }) },
      { path: "setup/access", lazy: async () => ({ Component: (await import("../Setup/TokensPage")).TokensPage }) },
      { path: "setup/failed", lazy: async () => ({ Component: (await import("../Setup/FailedPage")).FailedPage }) },
      { path: "setup/log", lazy: async () => ({ Component: (await import("../Setup/LogPage")).LogPage }) },
      ...(import.meta.env.DEV ? [{ path: "parts", lazy: async () => ({ Component: (await import("./gallery/PartsPage")).PartsPage }) }] : []),
      { path: "*", element: <ErrorNote error={new Error("There is no such page. The line above leads back.")} /> },
    ],
  },
]);
