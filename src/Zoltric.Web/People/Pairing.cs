using System.Security.Cryptography;
using System.Text;

namespace Zoltric.Web.People;

/// <summary>
/// The code that lets a phone in. It stands on the server's console and on its own screen, and is another one after ten wrong tries.
/// </summary>
public sealed class Pairing
{
    /// <summary>No letter or figure that is taken for another.</summary>
    private const string Letters = "ACDEFGHJKMNPQRTUVWXY34679";
    private const int Length = 8,
        MostWrong = 10;

    /// <summary>Where a phone is let in.</summary>
    internal const string Page = "/people/pair";

    private readonly Lock _gate = new();
    private string _code = RandomNumberGenerator.GetString(Letters, Length);
    private int _wrong;

    public string Code
    {
        get
        {
            lock (_gate)
                return $"{_code[..(Length / 2)]}-{_code[(Length / 2)..]}";
        }
    }

    public bool Matches(string? written)
    {
        var plain = new string([.. (written ?? "").ToUpperInvariant().Where(char.IsLetterOrDigit).Take(2 * Length)]);
        lock (_gate)
        {
            if (CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(plain), Encoding.UTF8.GetBytes(_code)))
                return true;
            if (++_wrong >= MostWrong)
            {
                (_code, _wrong) = (RandomNumberGenerator.GetString(Letters, Length), 0);
                Console.WriteLine($"Ten wrong tries: phones are let in by the code {Code} from now on.");
            }
            return false;
        }
    }
}
