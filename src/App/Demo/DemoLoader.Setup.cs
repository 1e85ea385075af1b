using DapperLantern.App.Campaigns;
using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Identity;

namespace DapperLantern.App.Demo;

/// <summary>What the demo company is set up as, from its files.</summary>
public sealed partial class DemoLoader
{
    private async Task LoadSetup(string folder, DemoSetup setup, DateTime now)
    {
        var password = new PasswordHasher<Person>().HashPassword(new Person(), SessionEndpoints.DemoPassword);
        foreach (var p in setup.People)
            db.Users.Add(MakePerson(p, password, now));
        foreach (var team in setup.Teams)
            db.Add(new TeamRow { Key = team.Key, Name = team.Name });
        var people = db.Users.Local.ToDictionary(p => p.UserName!, p => p.Id);
        db.AddRange(
            setup
                .People.Where(p => p.AwayDays > 0)
                .Select(p => new AbsenceRow
                {
                    Id = Guid.CreateVersion7(),
                    PersonId = people[p.SignIn],
                    Starts = now.Date.AddDays(-2),
                    Ends = now.Date.AddDays(p.AwayDays),
                    StandInId = p.StandIn is { } name ? people[name] : null,
                    Why = "Holiday",
                })
        );
        foreach (var (p, i) in setup.People.Where(p => p.Team is not null).Select((p, i) => (p, i)))
            db.Add(
                new TurnRow
                {
                    TeamKey = p.Team!,
                    PersonId = people[p.SignIn],
                    Position = i,
                    Weight = p.Weight,
                }
            );
        var today = DateOnly.FromDateTime(now);
        db.AddRange(
            setup.Campaigns.Select(c => new CampaignRow
            {
                Key = c.Key,
                Name = c.Name,
                Kind = c.Kind,
                About = c.About,
                OwnerId = people[c.Owner],
                Budget = c.Budget,
                Target = c.Target,
                Starts = today.AddDays(-c.StartDaysAgo),
                Ends = today.AddDays(-c.EndDaysAgo),
            })
        );
        db.AddRange(
            setup.Campaigns.SelectMany(c =>
                c.Costs.Select(k => new CampaignCostRow
                {
                    Id = Guid.CreateVersion7(),
                    CampaignKey = c.Key,
                    SpentOn = today.AddDays(-k.DaysAgo),
                    What = k.What,
                    Amount = k.Amount,
                    PersonId = people[c.Owner],
                })
            )
        );
        var writer = new SetWriter(db, now.AddDays(-540));
        writer.Sources(setup.Sources);
        writer.Pipelines(setup.Pipelines, BuiltInFields.UsualCurrency);
        AddProducts(setup.Products);
        writer.Tags(setup.Tags);
        db.AddRange(setup.Barred.Select(b => BarredRow.Of(services.GetRequiredService<PersonHash>(), b.Kind, b.Value, b.Why, now)));
        writer.Entry("value-lists", setup.ValueLists);
        writer.Entry("tag-convention", setup.TagConvention);
        writer.Entry("custom-fields", setup.CustomFields);
        writer.Entry(MessageTemplates.Entry, setup.Templates);
        writer.Entry(StepPlan.Entry, setup.StepPlans);
        writer.Live(Edition.Scoring, Json.Write(ScoringModelFile(folder)));
        writer.Live(Edition.Rules, Json.Write(DemoFiles.Read<Core.Routing.RuleSheet>(folder, "rule-sheet.json")));
        writer.Views(DemoFiles.Read<List<SetView>>(folder, "views.json"));
        AddCompany(setup.Company);
        await db.SaveChangesAsync();
        foreach (var calendar in setup.Calendars)
        {
            var (days, _, trouble) = HolidayFile.Read(await File.ReadAllTextAsync(Path.Combine(folder, "setup", calendar.File)), now);
            if (trouble is not null)
                throw new InvalidDataException($"{calendar.File}: {trouble}");
            await HolidayFile.Save(db, calendar.Key, calendar.Name, days);
        }
    }

    /// <exception cref="InvalidDataException">The file has a mistake.</exception>
    private static ScoringModel ScoringModelFile(string folder)
    {
        var reading = ModelFile.Read(File.ReadAllText(Path.Combine(folder, "setup", "scoring-model.json")));
        return reading is { Model: { } model, Problems: [] }
            ? model
            : throw new InvalidDataException($"scoring-model.json: {string.Join(" ", reading.Problems.Select(p => p.Words))}");
    }

    private static Person MakePerson(DemoPerson p, string password, DateTime now) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            UserName = p.SignIn,
            NormalizedUserName = p.SignIn.ToUpperInvariant(),
            Email = $"{p.SignIn}@tarnhollow.example",
            NormalizedEmail = $"{p.SignIn}@tarnhollow.example".ToUpperInvariant(),
            DisplayName = p.Name,
            Roles = [p.Role],
            TimeZone = p.TimeZone,
            Capacity = p.Capacity,
            WorksFrom = p.WorksFrom,
            WorksTo = p.WorksTo,
            Languages = p.Languages ?? [],
            Skills = p.Skills ?? [],
            Serves = p.Serves ?? [],
            Holidays = p.Holidays,
            PasswordHash = password,
            SecurityStamp = Guid.NewGuid().ToString("N"),
            LockoutEnabled = true,
        };

    private void AddCompany(DemoOwner company) =>
        db.Add(
            new CompanyRow
            {
                Name = company.Name,
                Street = company.Street,
                PostalCode = company.PostalCode,
                City = company.City,
                Country = company.Country,
                TimeZone = company.TimeZone,
                TaxNumber = company.TaxNumber,
                SenderName = company.Name,
                SenderAddress = company.Sender,
            }
        );

    private void AddProducts(IReadOnlyList<DemoProduct> products)
    {
        db.AddRange(
            products.Select(
                (p, i) =>
                    new ProductRow
                    {
                        Key = p.Key,
                        Name = p.Name,
                        Unit = p.Unit,
                        AlsoCalled = p.AlsoCalled,
                        Position = i,
                    }
            )
        );
        db.AddRange(
            products.SelectMany(p =>
                p.Prices.Select(x => new PriceRow
                {
                    ProductKey = p.Key,
                    Currency = x.Key,
                    Amount = x.Value,
                })
            )
        );
    }
}
