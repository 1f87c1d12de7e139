using Wergamon.App.Sets;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Display;

/// <summary>Sets in words, for every station that lists them.</summary>
internal static class SetFacts
{
    /// <summary>"14 tracks, 52:10"; the rule of a set by rule.</summary>
    public static string Size(SetRow set) =>
        set.Rule is { } rule ? rule.InWords : $"{Plural.Count(set.Tracks, "track")}, {Labels.Time(set.Duration)}";
}
