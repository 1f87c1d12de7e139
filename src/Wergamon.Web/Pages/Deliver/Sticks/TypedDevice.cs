using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;
using Wergamon.Web.Pages.Shared;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>What a device can play and how it wants its files, as the form sends it. Format and quality come as for a target.</summary>
public sealed record TypedDevice
{
    public string? Name { get; init; }

    /// <summary>Keys of formats.</summary>
    public string[] Plays { get; init; } = [];

    public int? MaxKilobits { get; init; }

    /// <summary>In hertz; 0 for any.</summary>
    public int? HighestRate { get; init; }

    /// <summary>0 for any.</summary>
    public int? MaxBits { get; init; }

    public bool PlaysSurround { get; init; }

    public bool KeepsTags { get; init; }

    /// <summary>By index in <see cref="TargetOptions.ArtworkRules"/>.</summary>
    public int? Artwork { get; init; }

    /// <summary>3 or 4.</summary>
    public int? TagVersion { get; init; }

    public int? MaxNameCharacters { get; init; }

    public StickFileSystem? FileSystem { get; init; }

    public PlayOrder? Order { get; init; }

    public StickLayout? Layout { get; init; }

    public bool HasPlaylists { get; init; }

    public string? Names { get; init; }

    /// <param name="quality">The same form, as a target reads it.</param>
    public DeviceDescription Over(DeviceDescription known, TargetForm quality) => known with
    {
        Name = string.IsNullOrWhiteSpace(Name) ? known.Name : Name.Trim(),
        Encoder = (quality with { Rate = null, Bits = null }).ApplyTo(new Target("", known.Name, known.Encoder)).Encoder,
        Plays = [.. Plays.Where(key => FileFormats.Find(key) is WritableFormat)],
        MaxKilobits = MaxKilobits,
        HighestRate = HighestRate is { } rate ? rate > 0 ? new SampleRate(rate) : null : known.HighestRate,
        MaxBits = MaxBits is { } bits ? bits > 0 ? bits : null : known.MaxBits,
        PlaysSurround = PlaysSurround,
        KeepsTags = KeepsTags,
        Artwork = Artwork is { } rule && rule >= 0 && rule < TargetOptions.ArtworkRules.Count
            ? TargetOptions.ArtworkRules[rule] is var chosen && chosen == ArtworkRule.Everything
            ? null
            : chosen
            : known.Artwork,
        Id3v2Version = TagVersion switch { 3 => null, 4 => 4, _ => known.Id3v2Version },
        MaxNameCharacters = MaxNameCharacters ?? known.MaxNameCharacters,
        FileSystem = FileSystem ?? known.FileSystem,
        Order = Order ?? known.Order,
        Layout = Layout ?? known.Layout,
        HasPlaylists = HasPlaylists,
        Names = string.IsNullOrWhiteSpace(Names) || Names.Trim() == (known with { Layout = Layout ?? known.Layout, Names = null }).Pattern
                || Names.Trim() == known.Pattern && known.Names is null
            ? null
            : Names.Trim(),
    };
}
