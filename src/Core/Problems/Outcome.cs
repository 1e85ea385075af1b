namespace DapperLantern.Core.Problems;

/// <summary>The result of an act, or the problem that refused it; exactly one of the two is there.</summary>
public sealed record Outcome<T>
{
    private Outcome(T? value, Problem? problem) => (Value, Problem) = (value, problem);

    public T? Value { get; }

    public Problem? Problem { get; }

    public static implicit operator Outcome<T>(T value) => new(value, null);

    public static implicit operator Outcome<T>(Problem problem) => new(default, problem);
}
