using System.Collections.Frozen;
using CsCheck;
using DapperLantern.Core.Routing;
using NodaTime;

namespace DapperLantern.Core.Tests.Routing;

public sealed class WorkingHoursTests
{
    private static readonly WorkingHours Oslo = new(DateTimeZoneProviders.Tzdb["Europe/Oslo"], new LocalTime(8, 0), new LocalTime(16, 0));
    private static readonly WorkingHours NewYork = new(DateTimeZoneProviders.Tzdb["America/New_York"], new LocalTime(9, 0), new LocalTime(17, 0));

    private static readonly Gen<Instant> AnyMoment = Gen.Int[0, 2 * 365 * 24 * 60].Select(m => Instant.FromUtc(2025, 6, 1, 0, 0) + Duration.FromMinutes(m));

    [Fact]
    public void WorkingTimeUntilDueIsTheTimePromisedAlsoOverDaylightSaving() =>
        Gen.Select(AnyMoment, Gen.Int[1, 6000], Gen.OneOfConst(Oslo, NewYork))
            .Sample((start, minutes, hours) => hours.Between(start, hours.After(start, Duration.FromMinutes(minutes))) == Duration.FromMinutes(minutes));

    [Fact]
    public void TimeThereAndBackCancels() => Gen.Select(AnyMoment, AnyMoment).Sample((a, b) => Oslo.Between(a, b) == -Oslo.Between(b, a));

    [Fact]
    public void AFridayAfternoonIsDueOnMonday() => Oslo.After(Instant.FromUtc(2026, 11, 20, 14, 0), Duration.FromHours(2)).ShouldBe(Instant.FromUtc(2026, 11, 23, 8, 0));

    [Fact]
    public void AWeekendArrivalStartsWithTheWorkday() => NewYork.After(Instant.FromUtc(2026, 11, 21, 20, 0), Duration.FromHours(1)).ShouldBe(Instant.FromUtc(2026, 11, 23, 15, 0));

    [Fact]
    public void ADayOfDaylightSavingStillHasEightHours() =>
        NewYork.Between(Instant.FromUtc(2026, 3, 6, 14, 0), Instant.FromUtc(2026, 3, 9, 21, 0)).ShouldBe(Duration.FromHours(16));

    [Theory]
    // Norway's 17 May 2027 is a Monday, and a holiday; the clock starts on the Friday before, an hour before the end of the day.
    [InlineData("2027-05-14T13:00:00Z", 120, "2027-05-18T07:00:00Z")]
    // Without a holiday in between.
    [InlineData("2027-05-07T13:00:00Z", 120, "2027-05-10T07:00:00Z")]
    // It came in on the holiday itself.
    [InlineData("2027-05-17T10:00:00Z", 60, "2027-05-18T07:00:00Z")]
    // The last Sunday of October: one works in summer time before, in winter time after.
    [InlineData("2027-10-29T13:00:00Z", 120, "2027-11-01T08:00:00Z")]
    public void HolidaysAreNoWorkingTime(string start, int minutes, string due) =>
        (Oslo with { Holidays = [new LocalDate(2027, 5, 17)] })
            .After(NodaTime.Text.InstantPattern.ExtendedIso.Parse(start).Value, Duration.FromMinutes(minutes))
            .ShouldBe(NodaTime.Text.InstantPattern.ExtendedIso.Parse(due).Value);

    [Fact]
    public void AtWorkIsWithinTheHoursOfAWorkday()
    {
        Oslo.At(Instant.FromUtc(2026, 11, 23, 7, 0)).ShouldBeTrue();
        Oslo.At(Instant.FromUtc(2026, 11, 23, 15, 0)).ShouldBeFalse();
        Oslo.At(Instant.FromUtc(2026, 11, 22, 9, 0)).ShouldBeFalse();
        (Oslo with { Days = 64 }).At(Instant.FromUtc(2026, 11, 22, 9, 0)).ShouldBeTrue();
    }

    [Fact]
    public void WithoutHoursAllTimeCountsSoThatNothingWaitsForever()
    {
        var none = Oslo with { Days = 0 };
        none.HasHours.ShouldBeFalse();
        none.After(Sample.Now, Duration.FromHours(3)).ShouldBe(Sample.Now + Duration.FromHours(3));
        none.Between(Sample.Now, Sample.Now + Duration.FromHours(3)).ShouldBe(Duration.FromHours(3));
    }

    /// <summary>Counting whole weeks is counting day by day, over every change of clocks; one zone changes them in working hours of the night shift.</summary>
    [Fact]
    public void YearsAreCountedAsDayByDay() =>
        Gen.Select(
                Gen.OneOfConst("Europe/Oslo", "America/New_York", "Asia/Gaza", "Australia/Lord_Howe", "America/Sao_Paulo"),
                Gen.OneOfConst((0, 6), (8, 16), (9, 17)),
                AnyMoment,
                Gen.Int[-900_000, 900_000],
                Gen.Int[1, WeekDays.All],
                Gen.Int[0, 1500].Array[0, 12]
            )
            .Sample(
                (zone, hours, from, minutes, days, off) =>
                {
                    var worked = new WorkingHours(DateTimeZoneProviders.Tzdb[zone], new LocalTime(hours.Item1, 0), new LocalTime(hours.Item2, 0))
                    {
                        Days = days,
                        Holidays = off.Select(d => new LocalDate(2024, 6, 1).PlusDays(d)).ToFrozenSet(),
                    };
                    var to = from + Duration.FromMinutes(minutes);
                    return worked.Between(from, to) == ByDay(worked, from, to);
                }
            );

    private static Duration ByDay(WorkingHours hours, Instant from, Instant to)
    {
        if (to < from)
            return -ByDay(hours, to, from);
        var sum = Duration.Zero;
        for (var date = from.InZone(hours.Zone).Date; date <= to.InZone(hours.Zone).Date; date = date.PlusDays(1))
        {
            if (!WeekDays.Has(hours.Days, date.DayOfWeek) || hours.Holidays.Contains(date))
                continue;
            var opens = (date + hours.From).InZoneLeniently(hours.Zone).ToInstant();
            var closes = (date + hours.To).InZoneLeniently(hours.Zone).ToInstant();
            var part = Instant.Min(closes, to) - Instant.Max(opens, from);
            if (part > Duration.Zero)
                sum += part;
        }
        return sum;
    }
}
