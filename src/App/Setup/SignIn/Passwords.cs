using System.Collections.Frozen;
using System.Text;
using Microsoft.AspNetCore.Identity;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>
/// Which passwords are taken, by NIST SP 800-63B (2024), 3.1.1.2: length decides, no kinds of letters are asked for, and a list of broken ones is shipped; neither the person's
/// name nor the product's may make up most of it.
/// </summary>
public static class Passwords
{
    public const int Shortest = 12;

    /// <summary>Longer ones are refused rather than cut.</summary>
    public const int Longest = 128;

    private static readonly Lazy<FrozenSet<string>> Broken = new(() =>
    {
        using var stream = typeof(Passwords).Assembly.GetManifestResourceStream("broken-passwords.txt")!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries).ToFrozenSet();
    });

    /// <summary>Why a password is not taken; null when it is.</summary>
    public static Problem? Refuse(string password, string name)
    {
        var length = password.EnumerateRunes().Count();
        if (length < Shortest)
            return Problem.Of("password-short", "", Shortest);
        if (length > Longest)
            return Problem.Of("password-long", "", Longest);
        var plain = password.Normalize(NormalizationForm.FormKC).ToLowerInvariant();
        if (plain.Distinct().Count() < 4 || IsRun(plain))
            return new Problem("password-run");
        // A broken one with figures or marks around it is as broken.
        var bare = plain.Trim("0123456789!?.-_*#+ ".ToCharArray());
        if (Broken.Value.Contains(plain) || Broken.Value.Contains(bare) || (bare.Length > 0 && Repeats(bare) is { } part && Broken.Value.Contains(part)))
            return new Problem("password-broken");
        var rest = plain;
        foreach (var known in name.Split('.', ' ', '@').Append("lantern").Where(w => w.Length >= 4))
            rest = rest.Replace(known.ToLowerInvariant(), "", StringComparison.Ordinal);
        if (rest.Length < 6)
            return new Problem("password-name");
        return null;
    }

    private static bool IsRun(string text)
    {
        for (var i = 1; i < text.Length; i++)
            if (text[i] - text[i - 1] is not (1 or -1))
                return false;
        return true;
    }

    // "passwordpassword" is "password"; null where nothing repeats.
    private static string? Repeats(string text)
    {
        for (var part = 3; part <= text.Length / 2; part++)
            if (text.Length % part == 0 && string.Concat(Enumerable.Repeat(text[..part], text.Length / part)) == text)
                return text[..part];
        return null;
    }
}

/// <summary>The same rules where Identity makes people.</summary>
public sealed class PasswordRule : IPasswordValidator<Person>
{
    public Task<IdentityResult> ValidateAsync(UserManager<Person> manager, Person user, string? password) =>
        Task.FromResult(
            Passwords.Refuse(password ?? "", user.UserName ?? "") is { } why
                ? IdentityResult.Failed(new IdentityError { Code = why.Code, Description = why.Words })
                : IdentityResult.Success
        );
}
