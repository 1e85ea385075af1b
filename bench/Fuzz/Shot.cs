namespace DapperLantern.Bench.Fuzz;

/// <summary>One request to try.</summary>
/// <param name="Operation">As the description names it, "POST /api/leads/{id}/notes".</param>
/// <param name="Body">The bytes to send; null for none.</param>
public sealed record Shot(string Operation, HttpMethod Method, string Path, byte[]? Body, string? ContentType, IReadOnlyList<(string Name, string Value)> Headers);
