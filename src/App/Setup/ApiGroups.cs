using System.Collections.Frozen;

namespace DapperLantern.App.Setup;

/// <summary>The groups of the interface's description, in a sentence each.</summary>
internal static class ApiGroups
{
    /// <summary>By the name of the group. A group without a sentence fails a test.</summary>
    public static FrozenDictionary<string, string> About { get; } =
        new Dictionary<string, string>
        {
            ["Accounts"] = "Companies and households that leads became, their addresses, and duplicates among them.",
            ["Campaigns"] = "Campaigns, the money spent on them, and the people who responded.",
            ["Contacts"] = "People of accounts.",
            ["Deals"] = "Deals with their stages, people, products and competitors; pipelines as they are set up.",
            ["Desk"] = "What waits for the caller, and the numbers above the places.",
            ["Duplicates"] = "Records that may be of one person or company: found, merged, said to be two, taken apart.",
            ["Failed work"] = "Work that was tried in vain, to be tried again or left.",
            ["Follow-ups"] = "Tasks, meetings, plans of steps, and the calendar.",
            ["For other systems"] = "Leads and events sent in or read with an access token.",
            ["Forms"] = "Web forms, what they ask, and leads filled in later.",
            ["Handover"] = "A lead becomes an account, a contact and a deal, and comes back from it.",
            ["Intake"] = "Lists that are imported, single arrivals, letters, and the files they came as.",
            ["Leads"] = "The worklist and single leads: facts, states, owners, stories, changes of many at once.",
            ["Log"] = "What was done, by whom and when.",
            ["Messages"] = "Letters to leads, their templates, and the outbox.",
            ["People"] = "Colleagues: invited, changed, let go; what they hold is handed on; their roles.",
            ["Reports"] = "Numbers over leads by where they came from.",
            ["Rights"] = "Records that are known and not seen; what is kept about a person, and its erasure.",
            ["Routing"] = "The rules that give leads to people: tried, checked, published.",
            ["Scoring"] = "The model of fit and engagement: tried, published, held against outcomes.",
            ["Search"] = "Records by words.",
            ["Session"] = "Signing in and out, passwords, passkeys, codes, and what one keeps for oneself.",
            ["Setup"] = "Lists of values, sources, fields, the company, mail, access tokens, backups.",
            ["Staff"] = "Teams, turns, working hours, absences and calendars of days off.",
            ["Tags"] = "Words that leads are marked with.",
            ["Views"] = "Kept conditions of the worklist.",
        }.ToFrozenDictionary();
}
