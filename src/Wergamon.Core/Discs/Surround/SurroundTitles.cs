using System.Globalization;
using System.Text.RegularExpressions;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Core.Discs.Surround;

/// <summary>
/// Finds the multichannel titles among the WAV files of a data disc. A name like T03D1-FRONT or T03D1-REST says title, disc and
/// channel group; parts are joined when title, disc, rate, depth and length agree.
/// </summary>
public static partial class SurroundTitles
{
    /// <summary>Parts of one title may differ by this much, since each may be cut at a sector.</summary>
    private const long MaxFramesApart = 4096;

    private static readonly ChannelRoles[] Front = [ChannelRoles.FrontLeft, ChannelRoles.FrontRight];
    private static readonly ChannelRoles[] Rest = [
        ChannelRoles.FrontCentre, ChannelRoles.LowFrequency, ChannelRoles.SideLeft, ChannelRoles.SideRight
    ];
    private static readonly ChannelRoles[] Whole = [.. Front, .. Rest];

    /// <param name="files">Files of the disc.</param>
    /// <param name="open">Opens one of them; closed once its header has been read.</param>
    public static IReadOnlyList<SurroundTitle> Find(IEnumerable<IsoFile> files, Func<IsoFile, Stream> open)
    {
        var parts = files.Where(file => file.Name.EndsWith(".wav", StringComparison.OrdinalIgnoreCase))
            .Select(file => Look(file, open))
            .OfType<SurroundPart>()
            .ToList();
        var titles = new List<SurroundTitle>();
        var named = parts.Select(part => (Part: part, Name: TitleName().Match(Path.GetFileNameWithoutExtension(part.File.Name)))).ToList();
        foreach (var group in named.Where(item => item.Name.Success)
            .GroupBy(item => (Number: Number(item.Name, "title"), Disc: Number(item.Name, "disc"))))
            titles.AddRange(
                Join(
                    group.Key.Number, Math.Max(1, group.Key.Disc),
                    [.. group.OrderByDescending(item => IsFront(item.Name)).Select(item => item.Part)]));
        foreach (var part in named.Where(item => !item.Name.Success && item.Part.Format.Channels > 2).Select(item => item.Part))
            titles.Add(new SurroundTitle(titles.Select(title => title.Number).DefaultIfEmpty().Max() + 1, 1, [part], RolesOf([part])));
        return [.. titles.Where(title => title.Channels > 2).OrderBy(title => title.Disc).ThenBy(title => title.Number)];
    }

    /// <summary>True when every channel has a role of its own.</summary>
    public static bool AreUsable(IReadOnlyList<ChannelRoles> roles) =>
        roles.All(role => role.Count() == 1) && roles.Distinct().Count() == roles.Count;

    private static SurroundPart? Look(IsoFile file, Func<IsoFile, Stream> open)
    {
        using var stream = open(file);
        return WavReader.FindSound(stream) is { } sound && sound.Length >= sound.Format.BytesPerFrame
            ? new SurroundPart(file, sound.Format, sound.Length / sound.Format.BytesPerFrame, sound.HasStatedRoles)
            : null;
    }

    private static IEnumerable<SurroundTitle> Join(int number, int disc, List<SurroundPart> parts)
    {
        while (parts.Count > 0)
        {
            var first = parts[0];
            var together = parts.Where(part => part == first || first.Format.Channels == 2 && FitsBeside(first, part)).Take(2).ToList();
            parts.RemoveAll(together.Contains);
            yield return new SurroundTitle(number, disc, together, RolesOf(together));
        }
    }

    private static bool FitsBeside(SurroundPart front, SurroundPart rest) =>
        rest.Format.Channels is > 1 and <= 6 && rest.Format.Rate == front.Format.Rate && rest.Format.Bits == front.Format.Bits
            && rest.Format.Kind == front.Format.Kind
        && Math.Abs(rest.Frames - front.Frames) <= MaxFramesApart;

    private static List<ChannelRoles> RolesOf(List<SurroundPart> parts)
    {
        if (parts.All(part => part.HasStatedRoles) && parts.SelectMany(part => part.Format.Roles.InOrder()).ToList() is var stated
            && AreUsable(stated))
            return stated;
        int channels = parts.Sum(part => part.Format.Channels);
        return channels == Whole.Length ? [.. Whole] : [.. ChannelRolesFacts.Usual(channels).InOrder()];
    }

    private static bool IsFront(Match name) => name.Groups["group"].Value.Equals("FRONT", StringComparison.OrdinalIgnoreCase);

    private static int Number(Match name, string group) =>
        int.TryParse(name.Groups[group].Value, NumberStyles.None, CultureInfo.InvariantCulture, out int number) ? number : 0;

    [GeneratedRegex(@"^T(?<title>\d{1,3})(D(?<disc>\d{1,2}))?([-_](?<group>FRONT|REST|ALL))?$", RegexOptions.IgnoreCase)]
    private static partial Regex TitleName();
}
