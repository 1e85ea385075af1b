using DapperLantern.Core.Rights;

namespace DapperLantern.App.Rights;

/// <summary>Marks the id of a record in a request. One that the caller does not see is refused as one that is not there; see <see cref="RecordGate"/>.</summary>
/// <param name="kind">One of <see cref="RoleDefinition.Kinds"/>.</param>
[AttributeUsage(AttributeTargets.Property | AttributeTargets.Parameter)]
public sealed class OfRecordAttribute(string kind) : Attribute
{
    public string Kind { get; } = kind;
}
