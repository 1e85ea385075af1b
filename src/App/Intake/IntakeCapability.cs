using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Intake.Letters;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>What comes in: lists, forms, letters, other programs, the telephone.</summary>
internal sealed class IntakeCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        // What comes in by itself is written by the same few statements all day.
        builder.Services.AddPlanned(ArrivalCapture.Source, onePlan: true);
        builder.Services.AddScoped<Sieve>();
        builder.Services.AddScoped<SourceMerger>();
        builder.Services.AddScoped<Imports>();
        builder.Services.AddScoped<RowMender>();
        builder.Services.AddScoped<TakeIn>();
        builder.Services.AddScoped<TakeBack>();
        builder.Services.AddScoped<ImportAnswers>();
        builder.Services.AddWorker<ImportRunner>();
        builder.Services.AddScoped<CaptureBatch>();
        builder.Services.AddWorker<ArrivalCapture>();
        builder.Services.AddSingleton<PageTokens>();
        builder.Services.AddScoped<FormArrivals>();
        builder.Services.AddScoped<MachineArrivals>();
        builder.Services.AddScoped<LetterArrivals>();
        builder.Services.AddHostedService<MailboxPoller>();
        builder.Services.AddScoped<Backfill>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapIntake();
        api.MapTokens();
        app.MapMachines();
        app.MapPublicForms();
    }

    public void MapEntities(ModelBuilder model) => model.MapIntakeEntities();

    public IReadOnlyList<RecordTable> Tables => IntakeTables.All;
}
