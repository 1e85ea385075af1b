using Dapper;
using DapperLantern.App.Data;
using DapperLantern.Tests.Shared;
using Npgsql;

namespace DapperLantern.App.Tests.Data;

/// <summary>What is written in bulk is what PostgreSQL holds afterwards.</summary>
public sealed class BulkTableTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string Make =
        "create temp table sample (id int, uuid uuid, long bigint, number numeric, bool boolean, moment timestamptz, text text, json jsonb, bytes bytea, texts text[])";

    private static readonly BulkTable<Sample> Table = new BulkTable<Sample>("sample")
        .Int("id", s => s.Id)
        .Uuid("uuid", s => s.Uuid)
        .Long("long", s => s.Long)
        .Number("number", s => s.Number)
        .Bool("bool", s => s.Bool)
        .Moment("moment", s => s.Moment)
        .Text("text", s => s.Text)
        .Json("json", s => s.Json)
        .Bytes("bytes", s => s.Bytes)
        .Texts("texts", s => s.Texts);

    [Fact]
    public async Task EveryTypeComesBackAsItWasWritten()
    {
        var random = new Random(7);
        var written = Enumerable.Range(0, 3000).Select(i => Random(i, random)).ToList();
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(Make);
        await Table.Write(connection.Over(), written);

        var kept = (await connection.QueryAsync<Sample>("select id, uuid, long, number, bool, moment, text, json #>> '{}' as json, bytes, texts from sample order by id")).ToList();
        kept.Count.ShouldBe(written.Count);
        foreach (var (was, now) in written.Zip(kept))
        {
            (now.Id, now.Uuid, now.Long, now.Number, now.Bool, now.Moment, now.Text).ShouldBe((was.Id, was.Uuid, was.Long, was.Number, was.Bool, was.Moment, was.Text));
            now.Json.ShouldBe(was.Json is null ? null : DapperLantern.App.Data.Json.Read<string>(was.Json));
            now.Bytes.ShouldBe(was.Bytes);
            now.Texts.ShouldBe(was.Texts);
        }
    }

    [Theory]
    [InlineData("0")]
    [InlineData("0.00")]
    [InlineData("-1")]
    [InlineData("10000")]
    [InlineData("99990000")]
    [InlineData("0.0001")]
    [InlineData("0.00001")]
    [InlineData("-0.10")]
    [InlineData("12345.6789")]
    [InlineData("1234567.890120")]
    [InlineData("79228162514264337593543950335")]
    [InlineData("-7.9228162514264337593543950335")]
    [InlineData("0.0000000000000000000000000001")]
    public async Task ANumberKeepsItsDigitsAndItsDecimals(string digits)
    {
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(Make);
        await Table.Write(connection.Over(), [new Sample { Number = decimal.Parse(digits, System.Globalization.CultureInfo.InvariantCulture) }]);
        (await connection.ExecuteScalarAsync<string>("select number::text from sample")).ShouldBe(digits);
    }

    [Fact]
    public async Task OneBadRowLeavesNoneAndTheConnectionGoesOn()
    {
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(Make);
        await Should.ThrowAsync<PostgresException>(() => Table.Write(connection.Over(), [new Sample { Id = 1 }, new Sample { Json = "{" }]));
        await Should.ThrowAsync<ArgumentException>(() => Table.Write(connection.Over(), [new Sample { Id = 1 }, new Sample { Moment = new DateTime(2026, 1, 1) }]));
        await Should.ThrowAsync<InvalidOperationException>(() => Table.Write(connection.Over(), Failing()));
        (await connection.ExecuteScalarAsync<int>("select count(*)::int from sample")).ShouldBe(0);
        await Table.Write(connection.Over(), [new Sample { Id = 2 }]);
        (await connection.ExecuteScalarAsync<int>("select id from sample")).ShouldBe(2);
    }

    private static IEnumerable<Sample> Failing()
    {
        for (var i = 0; i < 100_000; i++)
            yield return new Sample { Text = "long enough that some of it is already sent" };
        throw new InvalidOperationException();
    }

    private static Sample Random(int id, Random random)
    {
        return new()
        {
            Id = id,
            Uuid = Maybe(Guid.NewGuid()),
            Long = Maybe(random.NextInt64(long.MinValue, long.MaxValue)),
            Number = Maybe(new decimal(random.Next(), random.Next(), random.Next(), random.Next(2) == 0, (byte)random.Next(29))),
            Bool = Maybe(random.Next(2) == 0),
            Moment = Maybe(new DateTime(1900, 1, 1, 0, 0, 0, DateTimeKind.Utc).AddMicroseconds(random.NextInt64(9_000_000_000_000_000))),
            Text = Words(),
            Json = Words() is { } words ? Json.Write(words) : null,
            Bytes = random.Next(4) == 0 ? null : [.. Enumerable.Range(0, random.Next(50)).Select(_ => (byte)random.Next(256))],
            Texts = random.Next(4) == 0 ? null : [.. Enumerable.Range(0, random.Next(6)).Select(_ => Words() ?? "")],
        };
        T? Maybe<T>(T value)
            where T : struct => random.Next(4) == 0 ? null : value;
        string? Words() => random.Next(4) == 0 ? null : string.Concat(Enumerable.Range(0, random.Next(40)).Select(_ => Letters[random.Next(Letters.Length)]));
    }

    private static readonly string[] Letters = ["a", "Ø", "漢", "😀", "\\", "\"", "\n", ",", "{", "", "é", "'"];

    private sealed record Sample
    {
        public int Id { get; init; }
        public Guid? Uuid { get; init; }
        public long? Long { get; init; }
        public decimal? Number { get; init; }
        public bool? Bool { get; init; }
        public DateTime? Moment { get; init; }
        public string? Text { get; init; }
        public string? Json { get; init; }
        public byte[]? Bytes { get; init; }
        public string[]? Texts { get; init; }
    }
}
