using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.Core.Tests.Leads;

public sealed class GroupingTests
{
    private static readonly DateTimeZone Oslo = DateTimeZoneProviders.Tzdb["Europe/Oslo"];

    private static Grouping By(string text) => Grouping.Read(text, Sample.Catalogue).Item1!;

    private static bool Holds(Condition condition, Action<RecordValues> fill)
    {
        var record = new RecordValues(Sample.Catalogue);
        fill(record);
        return ConditionPredicate.Compile(condition, Sample.Catalogue)(record, Instant.FromUtc(2026, 11, 24, 0, 0));
    }

    [Theory]
    [InlineData("created_at:day", "2026-03-29", "29 Mar 2026")]
    [InlineData("created_at:week", "2026-03-23", "week of 23 Mar 2026")]
    [InlineData("created_at", "2026-03-01", "Mar 2026")]
    [InlineData("created_at:year", "2026-01-01", "2026")]
    [InlineData("fit", "80", "80 to 100")]
    [InlineData("engagement", "20", "20 to 39")]
    [InlineData("revenue", "0", "under 1")]
    [InlineData("revenue", "1000", "1000 to under 10000")]
    [InlineData("country", "NO", "Norway")]
    [InlineData("country", null, "not known")]
    [InlineData("owner", null, "no owner")]
    public void AGroupHasANameForPeople(string by, string? key, string label) => By(by).LabelOf(key).ShouldBe(label);

    [Theory]
    [InlineData("luck")]
    [InlineData("created_at:band")]
    [InlineData("created_at:hour")]
    [InlineData("created_at:7")]
    [InlineData("country:month")]
    [InlineData("created_at:day:week")]
    [InlineData("tag")]
    [InlineData("campaign_response")]
    public void WhatNobodyCanGroupByIsRefused(string by) => Grouping.Read(by, Sample.Catalogue).Item2!.Code.ShouldBe("group-unknown");

    [Fact]
    public void AMomentIsInJustTheDayThatItIsInThatZone() =>
        Gen.Long[0, 3L * 366 * 86400]
            .Sample(seconds =>
            {
                var moment = Instant.FromUtc(2025, 1, 1, 0, 0).PlusNanoseconds(seconds * 1_000_000_000);
                var day = moment.InZone(Oslo).Date;
                return new[] { -1, 0, 1 }.All(off =>
                    Holds(By("created_at:day").Of(LocalDatePattern.Iso.Format(day.PlusDays(off)), Oslo), r => r["created_at"] = FieldValue.Of(moment)) == (off == 0)
                );
            });

    [Fact]
    public void EveryScoreIsInJustOneBand() =>
        Gen.Int[0, 100].Sample(fit => new[] { "0", "20", "40", "60", "80" }.Count(band => Holds(By("fit").Of(band, Oslo), r => r["fit"] = FieldValue.Of(fit))) == 1);

    [Fact]
    public void EveryAmountIsInJustOneBand() =>
        Gen.Int[0, 999_999_999]
            .Select(cents => cents / 100m)
            .Sample(amount =>
                Enumerable.Range(-1, 8).Count(power => Holds(By("revenue").Of(power < 0 ? "0" : $"{(long)Math.Pow(10, power)}", Oslo), r => r["revenue"] = FieldValue.Of(amount)))
                == 1
            );

    [Theory]
    [InlineData(null, "-created_at")]
    [InlineData("-fit,created_at", "-fit,created_at")]
    [InlineData("fit,-fit", "fit")]
    public void AnOrderIsReadKeyByKey(string? written, string order) => string.Join(',', ListOrder.Read(written, Sample.Catalogue).Keys).ShouldBe(order);

    [Theory]
    [InlineData("luck", "order-unknown")]
    [InlineData("tag", "order-unknown")]
    [InlineData("--fit", "order-unknown")]
    [InlineData("fit,engagement,state,source,owner", "too-many-keys")]
    public void AnOrderByNothingWeHaveIsRefused(string written, string problem) => ListOrder.Read(written, Sample.Catalogue).Problem!.Code.ShouldBe(problem);
}
