using DapperLantern.App.Data;

namespace DapperLantern.App.Tests.Data;

/// <summary>Statements as interpolated text, on the database itself.</summary>
public sealed class SqlTextTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private sealed record Row(string? Text, Guid? Id, int Number, string[] Words);

    private async Task<T> With<T>(Func<LanternDb, Task<T>> ask)
    {
        await using var connection = await fixture.Server.Connect();
        await using var db = connection.Over();
        return await ask(db);
    }

    [Theory]
    [InlineData("O'Brien")]
    [InlineData("'; drop table lead; --")]
    [InlineData("{0} {{1}} $1 @p0")]
    public async Task AValueIsAParameterWhateverItSays(string value)
    {
        var words = new[] { value, "" };
        var id = Guid.CreateVersion7();
        var row = await With(db => db.One<Row>($"select {value} as text, {id} as id, {7} as number, {words} as words"));
        (row.Text, row.Id, row.Number, row.Words).ShouldBe((value, id, 7, row.Words));
        row.Words.ShouldBe(words);
    }

    [Fact]
    public async Task ANullHasTheTypeOfItsPlace()
    {
        var (text, id, none) = ((string?)null, (Guid?)null, (Guid[]?)null);
        var row = await With(db =>
            db.One<Row>($"select {text} as text, {id} as id, case when {none} is null and {id} is null then 1 else 0 end as number, array[]::text[] as words")
        );
        (row.Text, row.Id, row.Number).ShouldBe((null, null, 1));
    }

    [Fact]
    public async Task APartBringsItsParametersAndBracesStayText()
    {
        SqlText part = $"coalesce({"a"}, {"b"})";
        var found = await With(db => db.One<string>($$"""select {{part:sql}} || {{"c"}} || '{}' || {{part:sql}} as "Value" """));
        found.ShouldBe("ac{}a");
    }

    [Fact]
    public async Task SeveralStatementsGoInOneTripAndTheLastGivesTheRow()
    {
        SqlText[] statements =
        [
            $"create temp table passing (n int)",
            $"insert into passing values ({1}), ({2})",
            $"select sum(n)::int as number, null as text, null::uuid as id, array[{"x"}] as words from passing",
        ];
        (await With(db => db.One<Row>(SqlText.Joined(statements)))).Number.ShouldBe(3);
    }

    [Fact]
    public void APartWithAnotherFormatIsRefused()
    {
        var columns = "id";
        Should.Throw<FormatException>(() => Made($"select {columns:SQL} from lead"));
        Made($"select {columns:sql} from lead where id = {1}").ShouldBe("select id from lead where id = {0}");
    }

    private static string Made(SqlText text) => $"{text}";

    [Fact]
    public async Task ARowThatIsNotThereIsNullAndOneThatMustBeThereFails()
    {
        var nobody = Guid.CreateVersion7();
        (await With(db => db.Row<string>($"""select subject as "Value" from task where id = {nobody}"""))).ShouldBeNull();
        await Should.ThrowAsync<InvalidOperationException>(() => With(db => db.One<string>($"""select subject as "Value" from task where id = {nobody}""")));
        await Should.ThrowAsync<InvalidOperationException>(() => With(db => db.Row<Guid>($"""select id as "Value" from person""")));
    }
}
