using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Forms;

/// <summary>Makes of a read post what is captured: rated for spam, with its labels, consents and the mails that ask to confirm them.</summary>
public sealed class FormArrivals(Workspace workspace, PublicLinks links)
{
    public async Task<NewArrival> Of(
        LanternDb db,
        LiveForm form,
        Dictionary<string, string> posted,
        FormReading reading,
        PageToken? token,
        string language,
        string? sender,
        DateTime now
    )
    {
        var answers = AnswersOf(form, posted);
        var textKey = SpamRules.LongAnswer(answers) is { } text ? PersonHash.KeyOf(SHA256.HashData(Encoding.UTF8.GetBytes(text))) : (long?)null;
        var rating = SpamRules.Rate(
            new PostTraits(
                answers,
                posted.GetValueOrDefault(FormPost.Trap, "").Length > 0,
                token is null ? null : (now - token.OpenedAt).TotalSeconds,
                form.Sheet.MinimumSeconds,
                textKey is null ? 0 : await SameBefore(db, textKey.Value, now)
            )
        );
        if (token is null && form.Sheet.AsksSum)
            rating = new SpamRating([.. rating.Reasons, new SpamReason("Sent without the seal of the form's page.", SpamRating.WaitsFrom)]);
        var kept = posted.Where(p => p.Key is not ("_t" or "_sum")).ToDictionary(p => p.Key, p => p.Value);
        var raw = new SingleArrival
        {
            Id = Guid.CreateVersion7(),
            Channel = "form",
            Source = form.Source.Key,
            Campaign = FormReader.CampaignOf(reading.Labels, workspace.Catalogue) ?? form.Source.Campaign,
            FormKey = form.Key,
            FormEdition = form.Edition,
            At = now,
            Raw = Json.Write(kept),
            Labels = Json.Write(reading.Labels),
            State = rating.Waits ? SingleArrival.Waiting : SingleArrival.Taken,
            Reasons = rating.Waits ? Json.Write(rating.Reasons) : null,
            Key = sender is null ? null : FormPost.KeyOf(form.Key, sender, kept),
            TextKey = textKey,
        };
        return Make(raw, form, reading, answers, language);
    }

    /// <summary>A post that waited, read again by the edition it was posted to, to be taken in on a person's word.</summary>
    public async Task<NewArrival?> OfWaiting(LanternDb db, SingleArrival raw)
    {
        var body = await db.Set<Edition>().Where(x => x.Kind == FormRow.EditionKind(raw.FormKey!) && x.Number == raw.FormEdition).Select(x => x.Body).SingleOrDefaultAsync();
        if (body is null || await LiveForm.Find(db, raw.FormKey!) is not { } live)
            return null;
        var form = live with { Sheet = Json.Read<FormSheet>(body), Edition = raw.FormEdition!.Value };
        var posted = Json.Read<Dictionary<string, string>>(raw.Raw);
        var language = FormWords.Choose(form.Sheet, posted.GetValueOrDefault("_lang"), null);
        var reading = FormReader.Read(form.Sheet, posted, workspace.Catalogue, language);
        var answers = AnswersOf(form, posted);
        return Make(raw, form, reading, answers, language);
    }

    private NewArrival Make(SingleArrival raw, LiveForm form, FormReading reading, Dictionary<string, string> answers, string language)
    {
        var ask = reading.Consents.Any(c => c.ToConfirm) ? Guid.NewGuid() : (Guid?)null;
        return new NewArrival(
            raw,
            reading.Facts,
            [new LeadEvent(form.Source.EventKind, raw.At.ToInstant(), form.Name, CampaignKind: workspace.KindOfCampaign(raw.Campaign))],
            Words(form, reading)
        )
        {
            Consents = reading.Consents,
            Place = $"Form {form.Name}, edition {form.Edition}",
            Ask = ask,
            Mails = ask is null ? [] : [ConfirmationMail(ask.Value, form, reading, language, raw.At)],
            // A fact holds 500 letters; what was cut there is told whole.
            Note = string.Join("\n\n", answers.Values.Where(a => a.Length > FieldReader.LongestText)),
            SelfInitiated = true,
        };
    }

    // What was posted under the names of the form's own fields.
    private static Dictionary<string, string> AnswersOf(LiveForm form, Dictionary<string, string> posted) =>
        form.Sheet.Fields.Where(f => posted.ContainsKey(f.Key)).ToDictionary(f => f.Key, f => posted[f.Key]);

    private static string Words(LiveForm form, FormReading reading)
    {
        var labels = string.Join(", ", reading.Labels.OrderBy(l => l.Key, StringComparer.Ordinal).Select(l => $"{l.Key} {l.Value}"));
        return $"Came in through {form.Name}{(labels.Length > 0 ? $" ({labels})" : "")}";
    }

    private OutboxRow ConfirmationMail(Guid ask, LiveForm form, FormReading reading, string language, DateTime now) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Kind = "confirm-consent",
            ToEmail = reading.Facts.Text("email"),
            Language = language,
            Subject = FormWords.Say(language, "confirm-subject", form.Sheet.In(language).Title),
            Text = FormWords.Say(language, "confirm-mail", string.Join("\n\n", reading.Consents.Where(c => c.ToConfirm).Select(c => c.Wording)), links.Confirm(ask, language)),
            CreatedAt = now,
        };

    private static Task<int> SameBefore(LanternDb db, long textKey, DateTime now) =>
        db.Set<SingleArrival>().Where(a => a.TextKey == textKey && a.At > now.AddHours(-1)).Take(10).CountAsync();
}
