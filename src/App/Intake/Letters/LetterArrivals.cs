using System.Security.Cryptography;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Intake.Letters;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Letters;

/// <summary>What became of a letter. <see cref="Kind"/>: letter, automatic, bounce, mailing, ours or unreadable.</summary>
public sealed record LetterResult(string FileName, string Kind, string State, Guid? Lead, bool Again);

/// <summary>Takes letters in: makes or finds the lead, tells its story, keeps the letter and its files. A letter is kept once, by its Message-ID, else its content.</summary>
public sealed class LetterArrivals(LanternDbFactory databases, Workspace workspace, ArrivalCapture capture, AdmissionGate gate, TimeProvider clock)
{
    private const int LongestStory = 10_000;

    // One of us wrote, with this mailbox among those it went to.
    private const string Ours = "ours";

    public async Task<LetterResult> Take(string fileName, byte[] bytes, CancellationToken cancel)
    {
        var letter = bytes.Length <= LetterFile.MostBytes ? LetterFile.Read(bytes) : null;
        SourceRow mailbox;
        bool ours;
        await using (var db = await databases.Open(cancel))
        {
            mailbox = await db.Set<SourceRow>()
                .AsNoTracking()
                .Where(s => s.Channel == "mail")
                .OrderBy(s => s.Retired)
                .ThenByDescending(s => s.Key == "mailbox")
                .ThenBy(s => s.Key)
                .FirstAsync(cancel);
            ours = letter is not null && await db.Set<Person>().AnyAsync(x => x.Email == letter.From);
        }
        var raw = Raw(mailbox, letter, bytes);
        var files = Files(raw.Id, letter, bytes);
        var kind =
            letter is null ? "unreadable"
            : ours ? Ours
            : letter.Kind;
        if (kind is LetterKind.Letter or LetterKind.Mailing or "unreadable")
        {
            var captured = await capture.Take(Arriving(raw, letter, mailbox, files), cancel);
            return new LetterResult(fileName, kind, captured.State, captured.Lead, captured.Again);
        }
        return await KeepInStory(fileName, kind, raw, letter!, files, cancel);
    }

    private NewArrival Arriving(SingleArrival raw, LetterContent? letter, SourceRow mailbox, IReadOnlyList<ArrivalFileRow> files)
    {
        if (letter is null)
        {
            Wait(raw, new SpamReason("This is no letter we can read. The file is kept.", 0));
            return new NewArrival(raw, new RecordValues(workspace.Catalogue), [], "") { Files = files };
        }
        var facts = SignatureReader.Read(letter.FromName, letter.From, letter.Text.Signature, workspace.Catalogue);
        if (!facts["last_name"].IsKnown && !facts["company"].IsKnown && MailDomains.Company(letter.From) is { } domain)
            facts["company"] = FieldValue.Of(domain);
        facts["interest"] = FieldReader.Read(workspace.Catalogue["interest"], Shortened(letter.Subject), default(string)).Value;
        var rating = SpamRules.Rate(new PostTraits(Answers(letter, facts), false, null, 0, 0));
        if (rating.Waits)
            Wait(raw, [.. rating.Reasons]);
        else if (letter.Kind == LetterKind.Mailing || letter.Mass.Waits)
            Wait(raw, letter.Mass.Reasons.Length > 0 ? [.. letter.Mass.Reasons] : [new SpamReason("Sent to many, not written to us.", 0)]);
        return new NewArrival(
            raw,
            facts,
            [
                new LeadEvent(
                    mailbox.EventKind,
                    raw.At.ToInstant(),
                    letter.Subject.Length > 0 ? letter.Subject : "A letter",
                    CampaignKind: workspace.KindOfCampaign(mailbox.Campaign)
                ),
            ],
            $"Came in through {mailbox.Name}"
        )
        {
            Note = Story(letter),
            NoteKind = "mail",
            Files = files,
            SelfInitiated = true,
        };
    }

    /// <summary>A letter that waited, read again to be taken in on a person's word.</summary>
    public async Task<NewArrival?> OfWaiting(LanternDb db, SingleArrival raw)
    {
        var bytes = await db.Set<ArrivalFileRow>().Where(x => x.ArrivalId == raw.Id && x.Position == 0).Select(x => x.Bytes).SingleOrDefaultAsync();
        if (bytes is null || LetterFile.Read(bytes) is not { } letter)
            return null;
        var mailbox = await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == raw.Source).SingleAsync();
        return Arriving(raw, letter, mailbox, []);
    }

    // Answers of machines and of ourselves change nothing but the story of whom they concern.
    private async Task<LetterResult> KeepInStory(
        string fileName,
        string kind,
        SingleArrival raw,
        LetterContent letter,
        IReadOnlyList<ArrivalFileRow> files,
        CancellationToken cancel
    )
    {
        using var turn = await gate.Enter(cancel);
        await using var db = await databases.Open(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        if (await db.Set<SingleArrival>().AsNoTracking().Where(x => x.Key == raw.Key).SingleOrDefaultAsync() is { } before)
            return new LetterResult(fileName, kind, before.State, before.LeadId, true);
        var about =
            kind == LetterKind.Bounce ? letter.Failed
            : kind == Ours ? letter.To
            : [letter.From];
        // What we sent carries the id of its row before the "@".
        var ours = Guid.TryParse(letter.Original?.Split('@')[0], out var message) ? message : (Guid?)null;
        var lead = await db.Row<Guid?>(
            $"""select lead_id as "Value" from outbox where id = {ours} and lead_id is not null union all (select id from lead where email = any({about.ToArray()}) order by last_touch_at desc limit 1) limit 1"""
        );
        (raw.Outcome, raw.LeadId, raw.Reason) = (kind, lead, Words(kind, letter));
        // In nobody's story nobody would see it.
        if (lead is null)
            Wait(raw, new SpamReason(raw.Reason, 0), new SpamReason("It concerns nobody we know.", 0));
        await SingleArrival.Save(db, [raw], cancel);
        await ArrivalFileRow.Table.Write(db, files, cancel);
        if (lead is not null)
            await db.Log(EventLog.Lead, lead.Value, new LetterCame(kind, raw.Reason));
        await transaction.CommitAsync(cancel);
        return new LetterResult(fileName, kind, raw.State, lead, false);
    }

    private static string Words(string kind, LetterContent letter) =>
        kind switch
        {
            LetterKind.Bounce => letter.Failed.Count > 0
                ? $"A letter did not arrive at {string.Join(", ", letter.Failed)}."
                : "A letter did not arrive; the report does not say where.",
            LetterKind.Automatic => $"Automatic answer: {letter.Subject}",
            _ => $"One of us wrote: {letter.Subject}",
        };

    private static void Wait(SingleArrival raw, params SpamReason[] reasons) => (raw.State, raw.Reasons) = (SingleArrival.Waiting, Json.Write(reasons));

    private static Dictionary<string, string> Answers(LetterContent letter, RecordValues facts) =>
        new()
        {
            ["interest"] = letter.Text.Said,
            ["first_name"] = facts.Text("first_name") ?? "",
            ["last_name"] = facts.Text("last_name") ?? "",
        };

    private static string Story(LetterContent letter)
    {
        var files = letter.Files.Count == 0 ? "" : $"\n\nFiles: {string.Join(", ", letter.Files.Select(f => f.Name))}";
        var said = letter.Text.Said.Length > LongestStory ? letter.Text.Said[..LongestStory] + "\u2026" : letter.Text.Said;
        return $"{letter.Subject}\n\n{said}{files}".Trim();
    }

    private static string Shortened(string text) => text.Length <= FieldReader.LongestText ? text : text[..FieldReader.LongestText];

    private SingleArrival Raw(SourceRow mailbox, LetterContent? letter, byte[] bytes) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Channel = "mail",
            Source = mailbox.Key,
            Campaign = mailbox.Campaign,
            At = clock.UtcNow(),
            Raw = Json.Write(
                letter is null
                    ? new Dictionary<string, string>()
                    : new Dictionary<string, string>
                    {
                        ["from"] = letter.FromName.Length > 0 ? $"{letter.FromName} <{letter.From}>" : letter.From,
                        ["subject"] = letter.Subject,
                        ["text"] = letter.Text.Said,
                    }
            ),
            Key = new Guid(SHA256.HashData(letter?.Id is { } id ? System.Text.Encoding.UTF8.GetBytes($"mail:{id}") : bytes).AsSpan(0, 16)),
        };

    private static List<ArrivalFileRow> Files(Guid arrival, LetterContent? letter, byte[] bytes)
    {
        var files = new List<Attached>();
        if (bytes.Length <= LetterFile.MostBytes)
            files.Add(new Attached("letter.eml", "message/rfc822", bytes));
        files.AddRange(letter?.Files ?? []);
        return
        [
            .. files.Select(
                (f, i) =>
                    new ArrivalFileRow
                    {
                        Id = Guid.CreateVersion7(),
                        ArrivalId = arrival,
                        Position = i,
                        Name = f.Name,
                        Type = f.Type,
                        Size = f.Bytes.Length,
                        Bytes = f.Bytes,
                    }
            ),
        ];
    }
}
