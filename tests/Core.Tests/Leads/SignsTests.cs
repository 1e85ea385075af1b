using CsCheck;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Leads;

public sealed class SignsTests
{
    private static readonly Instant Start = Instant.FromUtc(2026, 1, 1, 0, 0);

    private static LeadEvent On(double day) => new("form.posted", Start + Duration.FromDays(day), "");

    [Fact]
    public void ALeadWithoutASignHasNone() => Signs.Of([]).ShouldBe(default);

    [Fact]
    public void AFirstSignHasNoSilenceBeforeIt() => Signs.Of([On(3)]).ShouldBe(new Signs(Start + Duration.FromDays(3), null));

    [Fact]
    public void SignsOfOneDayAreOneSign() => Signs.Of([On(0), On(200.4), On(200)]).ShouldBe(new Signs(Start + Duration.FromDays(200.4), 200));

    [Fact]
    public void TheOrderOfSignsDoesNotMatterAndSilenceIsWhatASlowLookFinds() =>
        Gen.Double[0, 500]
            .Array[1, 8]
            .Sample(days =>
            {
                var signs = Signs.Of([.. days.Select(On)]);
                var sorted = days.Order().ToArray();
                var before = sorted.Where(d => On(d).At < On(sorted[^1]).At - Duration.FromDays(1)).ToArray();
                return signs == Signs.Of([.. sorted.Select(On)])
                    && signs.Last == On(sorted[^1]).At
                    && signs.SilentDays == (before.Length == 0 ? null : (int)(On(sorted[^1]).At - On(before[^1]).At).TotalDays);
            });
}
