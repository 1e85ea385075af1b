using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Scoring.Outcomes;

/// <summary>A lead of which it is known what became of it, as it was known before that.</summary>
/// <param name="Known">Its facts as they were at <paramref name="At"/>, nothing that was learnt later.</param>
/// <param name="Events">Those after <paramref name="At"/> are passed over.</param>
/// <param name="At">The moment it is judged at: before it was decided.</param>
/// <param name="Won">True for a deal won; false for one lost and for a lead disqualified.</param>
/// <param name="LearntLater">Keys of fields that were filled after <paramref name="At"/> only.</param>
public sealed record LeadOutcome(RecordValues Known, IReadOnlyList<LeadEvent> Events, Instant At, bool Won, IReadOnlySet<string> LearntLater);
