using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>Loudspeakers by the number of channels, as Vorbis and Opus order them.</summary>
internal static class OggLayouts
{
    /// <summary>Three to eight channels (Vorbis I specification, 4.3.9; RFC 7845, section 5.1.1.2).</summary>
    public static IReadOnlyList<ChannelRoles> All => [.. Enumerable.Range(3, 6).Select(ChannelRolesFacts.Usual)];
}
