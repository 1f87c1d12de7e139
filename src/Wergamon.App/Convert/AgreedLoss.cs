using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>
/// What a person agrees to lose when originals go, as a short text. It covers which originals, and what is done to them: whatever changes
/// gives another text, and is asked again.
/// </summary>
public static class AgreedLoss
{
    /// <summary>For a plan: its originals and what happens to each. Null if nothing is lost.</summary>
    internal static string? Of(IEnumerable<PlanLine> losing)
    {
        var hash = new XxHash128();
        bool isAny = false;
        foreach (var line in losing)
        {
            isAny = true;
            hash.Append(
                Encoding.UTF8.GetBytes(
                    $"{line.FilePath}\0{Of(line.Planned!.Target)}\0{line.Planned.Route.InWords}\0{line.Planned.TagsKept} "
                        + $"{line.Planned.Source.Contents.Count}\n"));
        }

        return isAny ? System.Convert.ToHexStringLower(hash.GetCurrentHash()) : null;
    }

    /// <summary>For a folder whose files are not known yet: what the target does to sound, tags and pictures.</summary>
    public static string Of(Target target) => System.Convert.ToHexStringLower(XxHash128.Hash(JsonSerializer.SerializeToUtf8Bytes(target with
    {
        // Where copies go and how they are named loses nothing.
        Name = "",
        Names = null,
        Place = default,
        OnConflict = default,
        ExcludedFromLibrary = false,
    }, PlanningJson.Default.Target)));
}
