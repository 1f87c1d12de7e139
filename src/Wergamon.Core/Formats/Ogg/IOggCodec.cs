namespace Wergamon.Core.Formats.Ogg;

/// <summary>A codec in Ogg, as its header packets describe it.</summary>
internal interface IOggCodec
{
    /// <summary>The format of its files; null where they are only read.</summary>
    FileFormat? Format { get; }

    /// <summary>Whether a stream that starts with this packet is of this codec.</summary>
    bool Recognises(ReadOnlySpan<byte> firstPacket);

    /// <summary>Null when the packet is damaged.</summary>
    OggIdentity? ReadIdentity(ReadOnlySpan<byte> firstPacket);

    /// <summary>The position at which the sound starts: later than 0 in a stream that was cut out of a longer one.</summary>
    long StartOf(OggPages pages) => 0;
}
