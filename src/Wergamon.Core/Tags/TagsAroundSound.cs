using Wergamon.Core.Tags.Ape;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Tags;

/// <summary>Tags before or after the audio, in formats without a place of their own for them.</summary>
public static class TagsAroundSound
{
    /// <summary>ID3v2 at the start, else APE at the end, else ID3v1.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    public static TagReading Read(Stream stream)
    {
        var reading = Id3v2Reader.ReadAtStart(stream);
        if (reading.Tags.IsEmpty && ApeTag.Read(stream) is { Tags.IsEmpty: false } ape)
            return ape;
        return reading.Tags.IsEmpty && Id3v1.Read(stream) is { } old ? reading with { Tags = old } : reading;
    }
}
