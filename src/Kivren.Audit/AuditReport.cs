namespace Kivren.Audit;

/// <summary>What was tried and what failed, check by check.</summary>
public sealed class AuditReport
{
    private readonly Dictionary<string, (int Tried, List<string> Failures)> _checks = new(StringComparer.Ordinal);

    public IEnumerable<(string Check, int Tried, IReadOnlyList<string> Failures)> Checks =>
        _checks.Select(c => (c.Key, c.Value.Tried, (IReadOnlyList<string>)c.Value.Failures));

    public bool Right => _checks.Count > 0 && _checks.Values.All(c => c.Failures.Count == 0);

    public void Tried(string check)
    {
        var (tried, failures) = _checks.GetValueOrDefault(check, (0, []));
        _checks[check] = (tried + 1, failures);
    }

    public void Failed(string check, string where)
    {
        if (!_checks.ContainsKey(check))
            Tried(check);
        _checks[check].Failures.Add(where);
    }

    /// <summary>Counts a check as tried, and as failed when <paramref name="right"/> is false.</summary>
    public void Judge(string check, bool right, Func<string> where)
    {
        Tried(check);
        if (!right)
            Failed(check, where());
    }
}
