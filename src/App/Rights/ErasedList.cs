using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Intake;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Rights;

/// <summary>
/// Puts in place of an import's file one that is written anew from its rows, the emptied ones among them, with the same columns and row numbers:
/// the file as it came still held whom we erased. Its hash stays, so that the same file is recognised.
/// </summary>
public static class ErasedList
{
    private const int Patience = 600;

    public static async Task Rewrite(LanternDb db, Guid import, CancellationToken cancel)
    {
        var plan = Json.Read<SiftPlan>(await db.One<string>($"""select plan::text as "Value" from import where id = {import} for update"""));
        await using var file = ImportContent.Scratch();
        await using (var text = new StreamWriter(file, new UTF8Encoding(false), leaveOpen: true))
        {
            await text.WriteAsync(Csv.Line(plan.Columns.OrderBy(c => c.Index).Select(c => c.Heading)));
            using var patient = db.Patient(Patience);
            var rows = db.Set<Arrival>().Where(a => a.ImportId == import).OrderBy(a => a.RowNumber).Select(a => a.Cells);
            await foreach (var cells in rows.AsAsyncEnumerable().WithCancellation(cancel))
                await text.WriteAsync(Csv.Line(cells));
        }
        await db.Set<ImportChunk>().Where(x => x.ImportId == import).ExecuteDeleteAsync();
        await ImportContent.Save(db, import, file, cancel);
        var reading = Json.Write(new ListReading(ListFormat.Separated, "utf-8", ","));
        await db.Run(
            $"update import set size = {file.Length}, reading = {reading}::jsonb, plan = {Json.Write(plan with { Columns = [.. plan.Columns.Select(c => c with { Samples = [] })] })}::jsonb where id = {import}"
        );
    }
}
