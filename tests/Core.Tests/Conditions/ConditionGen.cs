using CsCheck;
using DapperLantern.Core.Conditions;

namespace DapperLantern.Core.Tests.Conditions;

/// <summary>Conditions of every shape, for properties.</summary>
internal static class ConditionGen
{
    /// <summary>Tests nested up to four deep under all of, any of and not.</summary>
    public static Gen<Condition> Nested(Gen<Condition> test) =>
        Gen.Recursive<Condition>(
            (depth, inner) =>
                depth > 3
                    ? test
                    : Gen.OneOf(
                        test,
                        inner.Array[0, 3].Select(p => (Condition)new AllOf([.. p])),
                        inner.Array[0, 3].Select(p => (Condition)new AnyOf([.. p])),
                        inner.Select(p => (Condition)new Not(p))
                    )
        );
}
