using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Formats;

/// <summary>Tags are replaced, the audio stays byte for byte.</summary>
public sealed class RewriteTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    [Fact]
    public void Files_keep_their_audio_under_any_tags() =>
        Gen.Select(
            Gen.String[Gen.Char["abc äé日 "], 1, 60], Gen.Byte.Array[1, 900], Gen.Int[1, 3000],
            Gen.Int[0, 3]).Sample((title, picture, frames, kind) =>
        {
            WritableFormat format = kind switch
            {
                0 => WavFormat.Instance,
                1 => AiffFormat.Instance,
                2 => FlacFormat.Instance,
                _ => Mp3Format.Instance
            };
            var tags = new TagSet();
            tags.Set(FieldNames.Title, title.Trim());
            tags.Pictures.Add(new Picture(PictureKind.Front, "image/png", "", picture));
            using var source = Make(kind, frames);
            var before = format.HashSound(source);
            using var first = new MemoryStream();
            format.RewriteTags(source, first, tags);
            using var second = new MemoryStream();
            format.RewriteTags(first, second, tags);
            Assert.Equal(before, format.HashSound(first));
            Assert.Equal(first.ToArray(), second.ToArray());
            var back = FileReading.ReadTags(first);
            Assert.Empty(back.Damage);
            Assert.Equal(tags[FieldNames.Title], back.Tags[FieldNames.Title]);
            Assert.Equal(tags.Pictures, back.Tags.Pictures);
            if (kind < 2)
                Assert.Equal(
                    SampleDigest.Of(TestSound.Noise(Format, frames)), SampleDigest.Of(Reader(kind, new MemoryStream(first.ToArray()))));
        });

    private static IPcmReader Reader(int kind, Stream stream) => kind == 0 ? new WavReader(stream) : new AiffReader(stream);

    private static MemoryStream Make(int kind, int frames)
    {
        var file = new MemoryStream();
        var old = new TagSet();
        old.Set(FieldNames.Title, "Old");
        switch (kind)
        {
            case 0:
                TestSound.Noise(Format, frames)
                    .CopyTo(
                        new WavWriter(
                            file, Format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(old)), new TailChunk("note", new byte[3])]));
                break;
            case 1:
                TestSound.Noise(Format, frames).CopyTo(new AiffWriter(file, Format, [new TailChunk("ID3 ", Id3v2Writer.Write(old))]));
                break;
            case 2:
                // 44,100 Hz, two channels, 16 bits (RFC 9639, section 8.2).
                FlacTags.Write(
                    file, [0x10, 0, 0x10, 0, 0, 0, 0, 0, 0, 0, 0x0A, 0xC4, 0x42, 0xF0, .. new byte[FlacStreamInfo.Length - 14]], old);
                file.Write(new byte[frames]);
                break;
            default:
                file.Write(Id3v2Writer.Write(old));
                file.Write([0xFF, 0xFB, 0x90, 0]);
                file.Write(new byte[frames]);
                break;
        }

        return file;
    }
}
