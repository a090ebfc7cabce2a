using System.Data.Common;

namespace Kivren.Store;

/// <summary>Tells a database that is away, or died in the middle, from a fault of what was being done.</summary>
public static class DatabaseFailure
{
    public static bool IsBehind(Exception? e) =>
        e is not null
        && (e is DbException || IsBehind(e.InnerException) || e is AggregateException many && many.InnerExceptions.Any(IsBehind));
}
