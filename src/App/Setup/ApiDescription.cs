using System.Globalization;
using System.Reflection;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Http;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.OpenApi;

namespace DapperLantern.App.Setup;

/// <summary>What the description of the interface (OpenAPI) says of each operation beside its shapes: its name, who may call it, the headers it heeds, how it refuses.</summary>
internal static class ApiDescription
{
    private const string SessionScheme = "session";
    private const string GuardScheme = "guard";
    private const string TokenScheme = "token";
    private const string ProblemType = "application/problem+json";

    public static void AddApiDescription(this WebApplicationBuilder builder) =>
        builder.Services.AddOpenApi("lantern", o => o.AddSchemaTransformer(Shapes.Describe).AddOperationTransformer(Operation).AddDocumentTransformer(Document));

    private static async Task Document(OpenApiDocument document, OpenApiDocumentTransformerContext context, CancellationToken cancel)
    {
        document.Info.Title = "Dapper Lantern";
        document.Info.Version = "1";
        document.Info.Description =
            "The interface that the pages use and that other systems may use. Errors are problem details (RFC 9457) with a stable type, a sentence, and the field concerned. Moments are UTC.";
        document.Info.License = new OpenApiLicense { Name = "Apache 2.0", Identifier = "Apache-2.0" };
        document.Servers = [new OpenApiServer { Url = "/", Description = "This installation" }];
        document.AddComponent("Problem", await ProblemSchema(context, cancel));
        document.AddComponent(
            SessionScheme,
            new OpenApiSecurityScheme
            {
                Type = SecuritySchemeType.ApiKey,
                In = ParameterLocation.Cookie,
                Name = "lantern",
                Description = "Given by POST /api/session. Behind TLS its name begins with __Host-.",
            }
        );
        document.AddComponent(
            GuardScheme,
            new OpenApiSecurityScheme
            {
                Type = SecuritySchemeType.ApiKey,
                In = ParameterLocation.Header,
                Name = "X-Lantern-Token",
                Description = "Goes with each write of a session; GET /api/session gives it.",
            }
        );
        document.AddComponent(
            TokenScheme,
            new OpenApiSecurityScheme
            {
                Type = SecuritySchemeType.Http,
                Scheme = "bearer",
                Description = "An access token for another system, made in the set-up.",
            }
        );
        foreach (var tag in document.Tags ?? new HashSet<OpenApiTag>())
            tag.Description = ApiGroups.About.GetValueOrDefault(tag.Name!);
        // References need the document they are of.
        foreach (var operation in document.Paths.Values.SelectMany(p => p.Operations?.Values.ToArray() ?? []))
            Bind(operation, document);
    }

    private static async Task<OpenApiSchema> ProblemSchema(OpenApiDocumentTransformerContext context, CancellationToken cancel)
    {
        var schema = await context.GetOrCreateSchemaAsync(typeof(ProblemDetails), null, cancel);
        schema.Description = "Why something was refused. Beside what RFC 9457 has, field: the place in the request that is wrong, where there is one.";
        return schema;
    }

    private static Task Operation(OpenApiOperation operation, OpenApiOperationTransformerContext context, CancellationToken cancel)
    {
        var metadata = context.Description.ActionDescriptor.EndpointMetadata;
        var method = context.Description.HttpMethod ?? "GET";
        var isPublic = metadata.OfType<IAllowAnonymous>().Any();
        var policies = metadata.OfType<IAuthorizeData>().Select(a => a.Policy).OfType<string>().ToList();
        operation.OperationId = NameOf(metadata.OfType<MethodInfo>().FirstOrDefault(), method, context.Description.RelativePath ?? "");
        // Read again, and taken away, once the document is whole.
        operation.Metadata ??= new Dictionary<string, object>();
        operation.Metadata[SessionScheme] =
            isPublic ? []
            : policies.Any(TokenScopes.All.Contains) ? [TokenScheme]
            : method == "GET" ? [SessionScheme]
            : (string[])[SessionScheme, GuardScheme];
        Headers(operation, method, isPublic);
        Refusals(operation, policies.Count > 0, isPublic, metadata.OfType<EnableRateLimitingAttribute>().Any());
        return Task.CompletedTask;
    }

    // Of the method that answers: peopleInvite of PeopleEndpoints.Invite.
    private static string NameOf(MethodInfo? answers, string method, string path)
    {
        if (answers is { DeclaringType: { } type } && !answers.Name.Contains('<', StringComparison.Ordinal))
            return Lower(type.Name.Replace("Endpoints", "", StringComparison.Ordinal)) + answers.Name;
        var words = path.Split(['/', '-', '{', '}', ':', '.'], StringSplitOptions.RemoveEmptyEntries);
        return method.ToLowerInvariant() + string.Concat(words.Select(w => char.ToUpperInvariant(w[0]) + w[1..]));
    }

    private static string Lower(string name) => char.ToLowerInvariant(name[0]) + name[1..];

    private static void Headers(OpenApiOperation operation, string method, bool isPublic)
    {
        var matches = operation.Summary?.Contains("If-Match", StringComparison.Ordinal) == true;
        if (matches)
            Add(operation, "If-Match", "Needed: the version of what is changed, in quotation marks. Refused with 412 where that is another one by now.");
        if (method != "GET" && !isPublic)
            Add(operation, "Idempotency-Key", "Up to 200 letters: a write that is repeated with the same key is done once, and answered alike.");
    }

    private static void Add(OpenApiOperation operation, string header, string description)
    {
        operation.Parameters ??= [];
        if (operation.Parameters.All(p => p.Name != header))
            operation.Parameters.Add(
                new OpenApiParameter
                {
                    Name = header,
                    In = ParameterLocation.Header,
                    Description = description,
                    Schema = new OpenApiSchema { Type = JsonSchemaType.String },
                }
            );
    }

    private static void Refusals(OpenApiOperation operation, bool hasRight, bool isPublic, bool isLimited)
    {
        var takes = operation.RequestBody is not null || operation.Parameters is { Count: > 0 };
        Refuse(operation, 400, "The request cannot be read.", may: true);
        Refuse(operation, 401, "Nobody is signed in, or the token is not known.", !isPublic);
        Refuse(operation, 403, "The role, or the token, may not do this.", hasRight && !isPublic);
        Refuse(operation, 404, "There is no such record.", operation.Parameters?.Any(p => p.In == ParameterLocation.Path) == true);
        Refuse(operation, 412, "It was changed meanwhile.", operation.Parameters?.Any(p => p.Name == "If-Match") == true);
        Refuse(operation, 422, "What is asked for cannot be done; the sentence says why.", takes);
        Refuse(operation, 429, "Too many calls; Retry-After says for how long to wait.", isLimited);
    }

    private static void Refuse(OpenApiOperation operation, int status, string description, bool may)
    {
        operation.Responses ??= [];
        if (may)
            operation.Responses.TryAdd(
                status.ToString(CultureInfo.InvariantCulture),
                new OpenApiResponse
                {
                    Description = description,
                    Content = new Dictionary<string, OpenApiMediaType> { [ProblemType] = new OpenApiMediaType() },
                }
            );
    }

    private static void Bind(OpenApiOperation operation, OpenApiDocument document)
    {
        if (operation.Metadata is { } kept && kept.TryGetValue(SessionScheme, out var value) && value is string[] schemes)
        {
            var requirement = new OpenApiSecurityRequirement();
            foreach (var scheme in schemes)
                requirement[new OpenApiSecuritySchemeReference(scheme, document)] = [];
            operation.Security = schemes.Length == 0 ? [] : [requirement];
        }
        foreach (var content in operation.Responses?.Values.SelectMany(r => r.Content?.Where(c => c.Key == ProblemType).Select(c => c.Value) ?? []) ?? [])
            content.Schema ??= new OpenApiSchemaReference("Problem", document);
    }
}
