using System.Collections.Immutable;
using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>A channel's source with what came through it in the last 30 days. <see cref="Days"/>: arrivals a day, oldest first.</summary>
public sealed record SourceView(string Key, string Name, string Channel, int Arrivals, int Cleared, IReadOnlyList<int> Days);

public sealed record DeliveryView(Guid Id, string FileName, string Source, string SourceName, string State, DateTime CreatedAt, DateTime? TakenAt, string By, SiftCounts Counts);

public sealed record IntakeView(IReadOnlyList<SourceView> Sources, IReadOnlyList<DeliveryView> Deliveries);

/// <summary>A field a column can go to.</summary>
public sealed record TargetView(string Key, string Label);

/// <summary>An opened delivery: how it was read, how its columns were matched, how its rows divide.</summary>
public sealed record SieveView(
    DeliveryView Delivery,
    string Encoding,
    string Separator,
    ImmutableArray<ColumnMatch> Matching,
    IReadOnlyList<TargetView> Targets,
    string? SameFileAs
);

public sealed record ValueView(string Key, string Label, string Value);

public sealed record RowView(int Number, string Outcome, string Reason, IReadOnlyList<ValueView> Values, IReadOnlyList<string> Problems, string Raw, Guid? LeadId);

public sealed record RowPage(IReadOnlyList<RowView> Rows, int? Next);

/// <summary>A changed matching: the target for each column, empty for none; and the source.</summary>
public sealed record MatchingChange(string Source, IReadOnlyList<string> Targets);

public static class IntakeEndpoints
{
    private const int RowsAPage = 100;

    public static void MapIntake(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/intake", Overview).WithSummary("Sources and deliveries");
        see.MapGet("/deliveries/{id}", Open).WithSummary("A delivery in the sieve");
        see.MapGet("/deliveries/{id}/rows", Rows).WithSummary("Rows of a delivery by outcome");
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/deliveries", Drop).DisableAntiforgery().WithSummary("Drop a list: it is read, matched and sifted; nothing is taken in");
        run.MapPut("/deliveries/{id}/matching", Rematch).WithSummary("Change the matching; sifts anew");
        run.MapPost("/deliveries/{id}/take-in", Take).WithSummary("Take the sifted rows in");
        run.MapPost("/deliveries/{id}/take-back", Back).WithSummary("Undo a delivery wholly");
    }

    private static async Task<Ok<IntakeView>> Overview(LanternDb db, TimeProvider clock)
    {
        var connection = await db.Connection();
        var today = clock.UtcNow().Date;
        var days = (
            await connection.QueryAsync<(string Source, int DaysAgo, int Count, int Cleared)>(
                """
                select source, (@today::date - created_at::date), count(*)::int, count(*) filter (where next_move = 'hand_over')::int
                from lead where created_at > @since group by 1, 2
                """,
                new { today, since = today.AddDays(-29) }
            )
        ).ToLookup(d => d.Source);
        var sources = await connection.QueryAsync<SourceRow>("select * from source order by channel, name");
        var views = sources.Select(s => new SourceView(s.Key, s.Name, s.Channel, days[s.Key].Sum(d => d.Count), days[s.Key].Sum(d => d.Cleared), PerDay(days[s.Key])));
        var deliveries = await Deliveries(connection, null);
        return TypedResults.Ok(new IntakeView([.. views], [.. deliveries]));
    }

    private static int[] PerDay(IEnumerable<(string Source, int DaysAgo, int Count, int Cleared)> days)
    {
        var counts = new int[30];
        foreach (var day in days)
            if (day.DaysAgo is >= 0 and < 30)
                counts[29 - day.DaysAgo] = day.Count;
        return counts;
    }

    private static async Task<IEnumerable<DeliveryView>> Deliveries(NpgsqlConnection connection, Guid? id)
    {
        var rows = await connection.QueryAsync<(Guid Id, string File, string Source, string SourceName, string State, DateTime Created, DateTime? Taken, string By)>(
            """
            select d.id, d.file_name, d.source, s.name, d.state, d.created_at, d.taken_at, p.display_name
            from delivery d join source s on s.key = d.source join person p on p.id = d.person_id
            where @id::uuid is null or d.id = @id order by d.created_at desc limit 50
            """,
            new { id }
        );
        var counts = (
            await connection.QueryAsync<(Guid Id, int Read, int New, int Adds, int Aside)>(
                "select id, rows_read, rows_new, rows_adds, rows_aside from delivery where @id::uuid is null or id = @id",
                new { id }
            )
        ).ToDictionary(c => c.Id, c => new SiftCounts(c.Read, c.New, c.Adds, c.Aside));
        return rows.Select(r => new DeliveryView(r.Id, r.File, r.Source, r.SourceName, r.State, r.Created, r.Taken, r.By, counts[r.Id]));
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Drop(
        IFormFile file,
        ClaimsPrincipal user,
        LanternDb db,
        Sieve sieve,
        Installation installation,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (file.Length > ListFile.LargestFile)
            return Trouble.Invalid(
                "file-too-large",
                $"The file has {file.Length / 1048576} MB; we read up to {ListFile.LargestFile / 1048576} MB at once. Nothing was kept; split the list and drop the parts."
            );
        var content = new byte[file.Length];
        await using (var stream = file.OpenReadStream())
            await stream.ReadExactlyAsync(content, cancel);
        var (reading, trouble) = ListFile.Detect(content);
        if (reading is null)
            return Trouble.Invalid(trouble!.Type, trouble.Sentence);

        var (headings, rows) = ListFile.Open(content, reading);
        var matching = ColumnMatcher.Match(installation.Catalogue, headings, [.. rows.Take(50).Select(r => r.Cells)]);
        var connection = await db.Connection();
        var source = await SuggestSource(connection, file.FileName);
        var delivery = Delivery.Of(Path.GetFileName(file.FileName), content, reading, matching, source, user.Id(), clock.UtcNow());
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        db.Deliveries.Add(delivery);
        await db.SaveChangesAsync(cancel);
        await Sift(connection, sieve, delivery, matching, cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(await View(connection, delivery, installation));
    }

    // The list source whose name shares most words with the file's name; the first one otherwise.
    private static async Task<string> SuggestSource(NpgsqlConnection connection, string fileName)
    {
        var words = Folding.Heading(Path.GetFileNameWithoutExtension(fileName)).Split(' ');
        var sources = await connection.QueryAsync<SourceRow>("select * from source where channel = 'list' order by name");
        return sources.MaxBy(s => Folding.Heading(s.Name).Split(' ').Intersect(words).Count())!.Key;
    }

    private static async Task Sift(NpgsqlConnection connection, Sieve sieve, Delivery delivery, ImmutableArray<ColumnMatch> matching, CancellationToken cancel)
    {
        var counts = await sieve.Sift(connection, delivery.Id, delivery.Content, new ListReading(delivery.Encoding, delivery.Separator[0]), matching, cancel);
        await connection.ExecuteAsync(
            "update delivery set rows_read = @Read, rows_new = @New, rows_adds = @Adds, rows_aside = @Aside where id = @Id",
            new
            {
                delivery.Id,
                counts.Read,
                counts.New,
                counts.Adds,
                counts.Aside,
            }
        );
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Open(Guid id, LanternDb db, Installation installation)
    {
        var delivery = await db.Deliveries.AsNoTracking().SingleOrDefaultAsync(d => d.Id == id);
        return delivery is null ? Trouble.NotFound("delivery") : TypedResults.Ok(await View(await db.Connection(), delivery, installation));
    }

    private static async Task<SieveView> View(NpgsqlConnection connection, Delivery delivery, Installation installation)
    {
        var view = (await Deliveries(connection, delivery.Id)).Single();
        var same = await connection.QueryFirstOrDefaultAsync<string>(
            "select file_name || ', ' || to_char(taken_at, 'FMDD Mon YYYY') from delivery where content_hash = @ContentHash and id <> @Id and state = 'taken' order by taken_at desc",
            new { delivery.ContentHash, delivery.Id }
        );
        var targets = installation.Catalogue.Facts.Select(f => new TargetView(f.Key, f.Label)).Prepend(new TargetView(ColumnMatcher.FullName, "Full name"));
        var matching = Json.Read<ImmutableArray<ColumnMatch>>(delivery.Matching);
        return new SieveView(view, delivery.Encoding, delivery.Separator, matching, [.. targets], same);
    }

    private static async Task<Ok<RowPage>> Rows(Guid id, string? outcome, int? after, LanternDb db, Installation installation)
    {
        var connection = await db.Connection();
        var rows = (
            await connection.QueryAsync<Arrival>(
                """
                select * from arrival where delivery_id = @id and row_number > @after and (@outcome::text is null or outcome = @outcome)
                order by row_number limit @RowsAPage
                """,
                new
                {
                    id,
                    after = after ?? 0,
                    outcome,
                    RowsAPage,
                }
            )
        ).ToList();
        var views = rows.Select(r => RowOf(r, installation.Catalogue)).ToList();
        return TypedResults.Ok(new RowPage(views, rows.Count == RowsAPage ? rows[^1].RowNumber : null));
    }

    private static RowView RowOf(Arrival row, FieldCatalogue catalogue)
    {
        var values = Json.ToRecord(row.Values, catalogue).Known().Select(k => new ValueView(k.Field.Key, k.Field.Label, k.Field.Show(k.Value.ToString())));
        var problems = Json.Problems(row.Problems).Select(p => p.Words);
        return new RowView(row.RowNumber, row.Outcome, row.Reason, [.. values], [.. problems], row.Raw, row.LeadId);
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Rematch(
        Guid id,
        MatchingChange change,
        LanternDb db,
        Sieve sieve,
        Installation installation,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        var delivery = await Lock(db, id);
        if (delivery is null)
            return Trouble.NotFound("delivery");
        if (delivery.State != "sifted")
            return Trouble.Conflict("already-taken", "This delivery is taken in; take it back before you change the matching.");
        var old = Json.Read<ImmutableArray<ColumnMatch>>(delivery.Matching);
        if (Check(change, old, installation.Catalogue) is { } wrong)
            return wrong;
        if (await connection.QuerySingleAsync<int>("select count(*)::int from source where key = @Source", new { change.Source }) == 0)
            return Trouble.Invalid("source-unknown", "Choose the source this list comes from.", "source");

        ImmutableArray<ColumnMatch> matching =
        [
            .. old.Select(
                (m, i) =>
                    (m.Target ?? "") == change.Targets[i] ? m : m with { Target = change.Targets[i].Length > 0 ? change.Targets[i] : null, Confidence = 100, Why = "you said so" }
            ),
        ];
        delivery.Matching = Json.Write(matching);
        delivery.Source = change.Source;
        await db.SaveChangesAsync(cancel);
        await Sift(connection, sieve, delivery, matching, cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(await View(connection, delivery, installation));
    }

    private static ProblemHttpResult? Check(MatchingChange change, ImmutableArray<ColumnMatch> old, FieldCatalogue catalogue)
    {
        if (change.Targets.Count != old.Length)
            return Trouble.Invalid("targets-count", $"The list has {old.Length} columns; {change.Targets.Count} targets came.", "targets");
        var used = change.Targets.Where(t => t.Length > 0).ToList();
        if (used.FirstOrDefault(t => t != ColumnMatcher.FullName && catalogue.Facts.All(f => f.Key != t)) is { } unknown)
            return Trouble.Invalid("field-unknown", $"There is no field \u201c{unknown}\u201d.", "targets");
        if (used.GroupBy(t => t).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return Trouble.Invalid("field-twice", $"Two columns go to {catalogue.Find(twice.Key)?.Label ?? "the full name"}; choose one.", "targets");
        return null;
    }

    private static async Task<Results<Ok<DeliveryView>, ProblemHttpResult>> Take(Guid id, LanternDb db, TakeIn takeIn, TimeProvider clock, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        var delivery = await Lock(db, id);
        if (delivery is null)
            return Trouble.NotFound("delivery");
        if (delivery.State == "taken")
            return TypedResults.Ok((await Deliveries(connection, id)).Single());
        if (delivery.State != "sifted")
            return Trouble.Conflict("taken-back", "This delivery was taken back. Drop the file again to take it in anew.");
        await takeIn.Run(connection, delivery, clock.UtcNow(), cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok((await Deliveries(connection, id)).Single());
    }

    private static async Task<Results<Ok<TakeBackResult>, ProblemHttpResult>> Back(Guid id, LanternDb db, TakeBack takeBack, TimeProvider clock, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var connection = await db.Connection();
        var delivery = await Lock(db, id);
        if (delivery is null)
            return Trouble.NotFound("delivery");
        if (delivery.State != "taken")
            return Trouble.Conflict("not-taken", "This delivery is not taken in, so there is nothing to take back.");
        var result = await takeBack.Run(connection, id, clock.UtcNow());
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(result);
    }

    // One at a time: who comes second waits here and then sees what the first has done.
    private static Task<Delivery?> Lock(LanternDb db, Guid id) => db.Deliveries.FromSql($"select * from delivery where id = {id} for update").SingleOrDefaultAsync();
}
