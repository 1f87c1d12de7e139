using System.Buffers.Binary;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Aiff;

/// <summary>
/// The CHAN chunk of AIFF files with more than two channels: which speaker each is for, as a bit mask (common practice, no source; from
/// memory, held against libavformat). Its bits are those of <see cref="ChannelRoles"/>.
/// </summary>
internal static class ChannelLayoutChunk
{
    public const string Id = "CHAN";

    /// <summary>Tag, mask, and the number of single descriptions, which is 0.</summary>
    public const int Length = 12;

    private const uint MaskTag = 0x1_0000;

    public static bool IsNeeded(PcmFormat format) => format.Channels > 2 && format.Roles.Count() == format.Channels;

    public static void Write(Span<byte> chunk, ChannelRoles roles)
    {
        chunk[..Length].Clear();
        BinaryPrimitives.WriteUInt32BigEndian(chunk, MaskTag);
        BinaryPrimitives.WriteUInt32BigEndian(chunk[4..], (uint)roles);
    }

    /// <summary>The roles; null where the chunk says them in another way or for another number of channels.</summary>
    public static ChannelRoles? Read(ReadOnlySpan<byte> chunk, int channels) =>
        chunk.Length >= Length && BinaryPrimitives.ReadUInt32BigEndian(chunk) == MaskTag
            && (ChannelRoles)BinaryPrimitives.ReadUInt32BigEndian(chunk[4..]) is var roles && roles.Count() == channels
            ? roles
            : null;
}
