using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Leads;

/// <summary>The response clock of a lead, in the owner's working time.</summary>
/// <param name="MinutesLeft">Negative when it has run out.</param>
/// <param name="Used">Share of the time used, 0 to 1 and more.</param>
public sealed record ClockView(DateTime DueAt, int MinutesLeft, double Used);

/// <param name="Cells">The fields asked for beside, as people read them; dates by ISO 8601; null for what is not known.</param>
/// <param name="Group">Key of the group the lead stands in; null where it is not known or nothing is grouped.</param>
public sealed record LeadListItem(
    Guid Id,
    int Number,
    string Name,
    string? Company,
    string? Interest,
    string State,
    string SourceName,
    Guid? OwnerId,
    string? OwnerName,
    int Fit,
    int FitHigh,
    int Engagement,
    string NextMove,
    ClockView? Clock,
    DateTime CreatedAt,
    DateTime LastTouchAt,
    IReadOnlyDictionary<string, string?> Cells,
    string? Group,
    string? GroupLabel
);

/// <param name="Count">Exact, unless <paramref name="Estimated"/> says otherwise.</param>
/// <param name="WithoutOwner">Those that nobody has; null where the count is estimated.</param>
public sealed record LeadCount(int All, bool Estimated, int? WithoutOwner);

/// <param name="Sentence">The conditions as words.</param>
/// <param name="Count">How many leads the conditions hold for; exact, unless <paramref name="Estimated"/> says otherwise.</param>
/// <param name="WithoutOwner">Those that nobody has; null where the count is estimated.</param>
/// <param name="Next">Opaque; pass as <c>after</c> for the next page, null on the last.</param>
public sealed record LeadPage(IReadOnlyList<LeadListItem> Leads, string Sentence, int Count, bool Estimated, int? WithoutOwner, string? Next);

/// <param name="Value">As people read it; null when unknown.</param>
/// <param name="From">Where it is from, for people.</param>
/// <param name="Choices">Null for a field that is not chosen from a list.</param>
/// <param name="Hidden">True where the value, if there is one, is kept from the reader.</param>
public sealed record FactView(string Key, string Label, string Type, string? Value, string? Stored, string? From, IReadOnlyList<ChoiceView>? Choices, bool Hidden)
{
    /// <param name="stored">The stored value; null when unknown.</param>
    public static FactView Of(FieldDefinition field, string? stored, string? from = null, bool hidden = false) =>
        new(
            field.Key,
            field.Label,
            field.Type.ToString().ToLowerInvariant(),
            stored is null ? null : field.Show(stored),
            stored,
            from,
            field.Type is FieldType.Choice or FieldType.YesNo ? [.. field.Offered(stored).Select(c => new ChoiceView(c.Key, c.Label))] : null,
            hidden
        );
}

public sealed record ChoiceView(string Key, string Label);

/// <summary>One entry of a story.</summary>
/// <param name="Call">How a call went; null for what is none.</param>
/// <param name="Editable">True for a note or call that whoever reads may correct and remove.</param>
public sealed record StoryView(Guid Id, DateTime At, string Kind, string Text, string? By, bool Pinned, DateTime? EditedAt, CallView? Call, bool Editable);

/// <param name="Outcome">A label.</param>
/// <param name="Incoming">True where they called us.</param>
/// <param name="Minutes">How long; null where it was not said.</param>
public sealed record CallView(string Outcome, bool Incoming, int? Minutes);

public sealed record TaskView(Guid Id, string Subject, DateTime DueAt, DateTime? DoneAt, Guid OwnerId, string Owner, string? Repeat, bool Urgent);

/// <summary>What a handed-over lead became.</summary>
/// <param name="Carried">What arrived, and what was left by a choice; null for handovers from before that was kept.</param>
/// <param name="MadeAccount">False where the lead joined an account that was there.</param>
public sealed record BecameView(
    Guid HandoverId,
    bool MadeAccount,
    Guid? AccountId,
    string? AccountName,
    Guid ContactId,
    string ContactName,
    Guid DealId,
    string DealName,
    Core.Handover.Carried? Carried
);

/// <param name="DropsUnderBar">When engagement falls under its bar unless something happens.</param>
/// <param name="OpenVetoes">What would rule them out if it turned out to hold.</param>
/// <param name="WouldClear">Names of the signals of which one more would clear the bar of engagement.</param>
/// <param name="MoveName">What the next move is called here.</param>
/// <param name="Curve">Engagement by today's model over the last year and the next 90 days.</param>
public sealed record ScoreView(
    Bars Bars,
    int Fit,
    int FitLow,
    int FitHigh,
    ImmutableArray<Contribution> FitReasons,
    ImmutableArray<OpenQuestion> Unknown,
    int Engagement,
    ImmutableArray<Contribution> EngagementReasons,
    string NextMove,
    DateTime? DropsUnderBar,
    int Edition,
    ImmutableArray<string> OpenVetoes,
    IReadOnlyList<string> WouldClear,
    string MoveName,
    string Headline,
    IReadOnlyList<EngagementThen> Curve
);

public sealed record TraceView(DateTime At, int Edition, IReadOnlyList<TraceLine> Lines);

/// <summary>Another lead of the same company, by its name without the legal form.</summary>
public sealed record ColleagueView(Guid Id, int Number, string Name, string State, string? Owner, string? Interest);

/// <summary>One question of qualifying with its answer.</summary>
public sealed record QuestionView(string Key, string Label, string Hint, Finding Finding);

/// <summary>What was found out about a lead for a pipeline.</summary>
/// <param name="Missing">What stands between it and "qualified", a sentence each; empty when nothing.</param>
/// <param name="Because">Why it is qualified though something is missing; null where nothing was.</param>
/// <param name="LostTo">Who got a disqualified lead.</param>
public sealed record QualifyingView(string Pipeline, string PipelineName, IReadOnlyList<QuestionView> Questions, IReadOnlyList<string> Missing, string? Because, string? LostTo);

/// <param name="Company">The company's other leads, those still open first; at most 20.</param>
public sealed record LeadSheet(
    Guid Id,
    int Number,
    int Version,
    string Name,
    string? Headline,
    string State,
    string? SubState,
    DateTime? WakeAt,
    string? StateReason,
    string SourceName,
    string? CampaignName,
    Guid? OwnerId,
    string? OwnerName,
    ClockView? Clock,
    DateTime CreatedAt,
    DateTime LastTouchAt,
    IReadOnlyList<FactView> Facts,
    ScoreView Score,
    TraceView? Routing,
    QualifyingView Qualifying,
    IReadOnlyList<StoryView> Story,
    IReadOnlyList<TaskView> Tasks,
    BecameView? Became,
    IReadOnlyList<Activities.MeetingView> Meetings,
    IReadOnlyList<ColleagueView> Company
);
