using Wergamon.Core.Audio;
using Wergamon.Core.Discs.Iso9660;

namespace Wergamon.Core.Discs.Surround;

/// <summary>One file that holds a title or a part of its channels.</summary>
/// <param name="HasStatedRoles">True when its header gives the speaker of each channel.</param>
public sealed record SurroundPart(IsoFile File, PcmFormat Format, long Frames, bool HasStatedRoles);

/// <summary>A multichannel title of a disc.</summary>
/// <param name="Number">From the name of its files, or its place among them.</param>
/// <param name="Disc">From the name too; 1 where it does not say.</param>
/// <param name="Parts">One file, or the front pair and the rest, whose channels belong together.</param>
/// <param name="Roles">The loudspeaker of each channel in the order of the parts: as the headers say, or proposed.</param>
public sealed record SurroundTitle(int Number, int Disc, IReadOnlyList<SurroundPart> Parts, IReadOnlyList<ChannelRoles> Roles)
{
    public PcmFormat PartFormat => Parts[0].Format;

    public int Channels => Parts.Sum(part => part.Format.Channels);

    public long Frames => Parts.Min(part => part.Frames);

    public TimeSpan Duration => PartFormat.Duration(Frames);

    public bool HasStatedRoles => Parts.All(part => part.HasStatedRoles);

    /// <summary>The shape of all channels together, each in its role.</summary>
    public PcmFormat FormatWith(IEnumerable<ChannelRoles> roles) =>
        PartFormat with { Channels = Channels, Roles = roles.Aggregate(ChannelRoles.None, (all, role) => all | role) };
}
