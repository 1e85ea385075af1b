using CsCheck;
using DapperLantern.Core.Leads.Activities;
using NodaTime;

namespace DapperLantern.Core.Tests.Leads.Activities;

public sealed class RepeatTests
{
    private static readonly DateTimeZone Oslo = DateTimeZoneProviders.Tzdb["Europe/Oslo"];

    private static Instant At(int year, int month, int day, int hour = 9) => new LocalDateTime(year, month, day, hour, 0).InZoneLeniently(Oslo).ToInstant();

    [Theory]
    [InlineData("1w", 2026, 11, 25, 2026, 12, 2)]
    [InlineData("10d", 2026, 11, 25, 2026, 12, 5)]
    [InlineData("1m", 2026, 1, 31, 2026, 2, 28)]
    [InlineData("2w", 2026, 10, 20, 2026, 11, 3)]
    public void ATaskComesAgainAtTheSameTimeOfDay(string every, int y, int m, int d, int yy, int mm, int dd) =>
        Repeat.Read(every)!.Next(At(y, m, d), At(y, m, d), Oslo).ShouldBe(At(yy, mm, dd));

    [Fact]
    public void TheDayOfTheMonthIsNotLostInAShortMonth() => Repeat.Read("1m")!.Next(At(2026, 1, 31), At(2026, 3, 1), Oslo).ShouldBe(At(2026, 3, 31));

    [Fact]
    public void WhatWasMissedComesOnce() => Repeat.Read("1d")!.Next(At(2026, 1, 1), At(2026, 11, 25, 10), Oslo).ShouldBe(At(2026, 11, 26));

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("w")]
    [InlineData("0d")]
    [InlineData("61d")]
    [InlineData("-1d")]
    [InlineData("1y")]
    public void WhatIsNoRepeatIsNone(string? text) => Repeat.Read(text).ShouldBeNull();

    [Fact]
    public void TheNextIsAlwaysAfterNowAndNeverAWholeStepLate() =>
        Gen.Select(Gen.Int[1, 60], Gen.OneOfConst('d', 'w', 'm'), Gen.Int[0, 40_000_000], Gen.Int[0, 90_000_000])
            .Sample(
                (every, unit, due, later) =>
                {
                    var repeat = Repeat.Read($"{every}{unit}")!;
                    var from = At(2026, 1, 1) + Duration.FromSeconds(due);
                    var now = from + Duration.FromSeconds(later);
                    var next = repeat.Next(from, now, Oslo);
                    next.ShouldBeGreaterThan(now);
                    (next - now).ShouldBeLessThan(
                        Duration.FromDays(
                            every
                                * (
                                    unit == 'm' ? 31.2
                                    : unit == 'w' ? 7.1
                                    : 1.1
                                )
                                + 3.1
                        )
                    );
                }
            );
}
