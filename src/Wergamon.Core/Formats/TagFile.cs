using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Ape;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats;

/// <summary>Reads the tags of a file in whatever dialect it speaks.</summary>
public static class TagFile
{
    /// <summary>Reads without moving anything; a file in no known dialect gives an empty set.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    public static TagReading Read(Stream stream)
    {
        Span<byte> start = stackalloc byte[12];
        stream.Position = 0;
        start = start[..stream.ReadUpTo(start)];
        if (WavReader.Recognises(start))
            return RiffTags.Read(stream);
        if (AiffReader.Recognises(start))
            return AiffTags.Read(stream);
        if (FlacTags.FindStart(stream) is { } flacStart)
            return FlacTags.Read(stream, flacStart).AsReading();
        if (OggPages.Open(stream) is { } pages)
            return OggTags.Read(pages);
        if (Mp4Movie.Find(stream) is { } movie)
            return Mp4Tags.Read(movie);
        if (AsfObjects.Open(stream) is { } objects)
            return AsfTags.Read(objects);
        var reading = Id3v2Reader.ReadAtStart(stream);
        if (reading.Tags.IsEmpty && ApeTag.Read(stream) is { Tags.IsEmpty: false } ape)
            return ape;
        return reading.Tags.IsEmpty && Id3v1.Read(stream) is { } old ? reading with { Tags = old } : reading;
    }
}
