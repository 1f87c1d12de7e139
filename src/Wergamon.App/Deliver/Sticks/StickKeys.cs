using System.Globalization;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Keys of files on sticks.</summary>
internal static class StickKeys
{
    public const string ListKey = "list ";

    /// <summary>The track of a file's key; see <see cref="StickPlanner.KeyOf"/>.</summary>
    public static long TrackIdOf(string key) => key.Split('/') switch
    {
        [_, var track, _] => long.Parse(track, CultureInfo.InvariantCulture),
        _ => long.Parse(key, CultureInfo.InvariantCulture),
    };

    public static string KeyOf(StickList list) => FormattableString.Invariant($"{ListKey}{list.Row.Id}");
}
