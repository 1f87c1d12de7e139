using System.Buffers.Binary;
using System.Text;
using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

/// <summary>WAV and AIFF, written and read back by our own code; outside libraries read them in the tests of the worker.</summary>
public sealed class PcmFileTests
{
    private static readonly Gen<PcmFormat> IntegerFormats = Gen.Select(
        Gen.OneOfConst(8_000, 22_050, 44_100, 48_000, 96_000, 192_000), Gen.Int[1, 8], Gen.Int[1, 32],
        (rate, channels, bits) => new PcmFormat(new SampleRate(rate), channels, bits));

    [Fact]
    public void Wav_gives_back_every_integer_format() => Gen.Select(IntegerFormats, Gen.Int[0, 9000]).Sample((format, frames) =>
        AssertSameAfter(format, frames, (stream, f) => new WavWriter(stream, f), stream => new WavReader(stream)), iter: 100);

    [Fact]
    public void Aiff_gives_back_every_integer_format() => Gen.Select(IntegerFormats, Gen.Int[0, 9000]).Sample((format, frames) =>
        AssertSameAfter(format, frames, (stream, f) => new AiffWriter(stream, f), stream => new AiffReader(stream)), iter: 100);

    [Theory]
    [InlineData(32, true)]
    [InlineData(64, true)]
    [InlineData(32, false)]
    [InlineData(64, false)]
    public void Floats_come_back_as_they_were(int bits, bool asWav)
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, bits, SampleKind.Float);
        var stream = new MemoryStream();
        var block = new SampleBuffer(format, 3) { FrameCount = 3 };
        double[] values = [0, -1, 1.5, 1e-9, 0.1f, -0.3f];
        for (int i = 0; i < values.Length; i++)
        {
            if (bits == 32)
                block.Floats[i] = (float)values[i];
            else
                block.Doubles[i] = values[i];
        }

        IPcmWriter writer = asWav ? new WavWriter(stream, format) : new AiffWriter(stream, format);
        writer.Write(block);
        writer.Complete();
        using IPcmReader reader = asWav ? new WavReader(stream) : new AiffReader(stream);
        var back = new SampleBuffer(reader.Format);
        Assert.Equal(3, reader.Read(back));
        for (int i = 0; i < values.Length; i++)
            Assert.Equal(bits == 32 ? (float)values[i] : values[i], bits == 32 ? back.Floats[i] : back.Doubles[i]);
    }

    [Fact]
    public void File_lengths_are_known_to_the_byte() => Gen.Select(
        IntegerFormats, Gen.Int[0, 500], Gen.Int[0, 33]).Sample((format, frames, tagLength) =>
    {
        List<TailChunk> tail = [new("id3 ", new byte[tagLength])];
        var wav = new MemoryStream();
        TestSound.Noise(format, frames).CopyTo(new WavWriter(wav, format, tail: tail));
        var aiff = new MemoryStream();
        TestSound.Noise(format, frames).CopyTo(new AiffWriter(aiff, format, tail));
        Assert.Equal(WavWriter.FileLength(format, frames, tail[0].LengthInFile), wav.Length);
        Assert.Equal(AiffWriter.FileLength(format, frames, tail[0].LengthInFile), aiff.Length);
        Assert.Equal(wav.Length, BinaryPrimitives.ReadUInt32LittleEndian(wav.ToArray().AsSpan(4)) + 8L);
        Assert.Equal(aiff.Length, BinaryPrimitives.ReadUInt32BigEndian(aiff.ToArray().AsSpan(4)) + 8L);
    }, iter: 50);

    /// <summary>EBU Tech 3306: "RF64" with the lengths in ds64, the 32-bit fields all ones.</summary>
    [Fact]
    public void A_file_beyond_the_riff_limit_is_rf64()
    {
        var format = new PcmFormat(new SampleRate(48_000), 2, 24);
        var stream = new MemoryStream();
        var md5 = TestSound.Noise(format, 5000).CopyTo(new WavWriter(stream, format, riffLimit: 10_000, tail: [new("id3 ", new byte[7])]));
        var bytes = stream.ToArray();
        Assert.Equal("RF64", Encoding.ASCII.GetString(bytes, 0, 4));
        Assert.Equal("ds64", Encoding.ASCII.GetString(bytes, 12, 4));
        Assert.Equal(uint.MaxValue, BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(4)));
        Assert.Equal(bytes.Length - 8, BinaryPrimitives.ReadInt64LittleEndian(bytes.AsSpan(20)));
        Assert.Equal((md5, 5000L), SampleDigest.Of(new WavReader(stream)));
        Assert.NotNull(Chunks.Walk(stream, ByteOrder.LittleEndian).Find("id3 "));
    }

    [Fact]
    public void Unknown_chunks_are_skipped()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 1, 8);
        var plain = new MemoryStream();
        var md5 = TestSound.Noise(format, 101).CopyTo(new WavWriter(plain, format));
        byte[] bytes = plain.ToArray();
        byte[] odd = [.. "junk"u8, 3, 0, 0, 0, 1, 2, 3, 0];
        var stream = new MemoryStream([.. bytes[..12], .. odd, .. bytes[12..], .. odd]);
        using var reader = new WavReader(stream);
        Assert.Equal((md5, 101L), SampleDigest.Of(reader));
    }

    [Fact]
    public void Little_endian_aifc_is_read()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var big = new MemoryStream();
        var md5 = TestSound.Noise(format, 300).CopyTo(new AiffWriter(big, format));
        var bytes = big.ToArray();
        // FORM AIFC with COMM of 24 bytes (kind sowt, empty name), then the samples turned round.
        var sound = bytes[54..];
        for (int i = 0; i < sound.Length; i += 2)
            (sound[i], sound[i + 1]) = (sound[i + 1], sound[i]);
        byte[] turned = [
            .. "FORM"u8, 0, 0, 0, 0, .. "AIFC"u8, .. "COMM"u8, 0, 0, 0, 24, .. bytes[20..38], .. "sowt"u8, 0, 0, .. bytes[38..54], .. sound
        ];
        using var reader = new AiffReader(new MemoryStream(turned));
        Assert.Equal((md5, 300L), SampleDigest.Of(reader));
    }

    /// <summary>80-bit extended floats of common sample rates (Audio Interchange File Format 1.3, appendix; from memory).</summary>
    [Theory]
    [InlineData(44_100, "400EAC44000000000000")]
    [InlineData(48_000, "400EBB80000000000000")]
    [InlineData(22_050, "400DAC44000000000000")]
    public void Extended_floats_have_their_published_bytes(int value, string hexadecimal)
    {
        var bytes = new byte[ExtendedFloat.Length];
        ExtendedFloat.Write(bytes, value);
        Assert.Equal(hexadecimal, Convert.ToHexString(bytes));
        Assert.Equal(value, ExtendedFloat.Read(bytes));
    }

    /// <summary>The check value of CRC-16/ARC in the usual catalogues of checksums (from memory).</summary>
    [Fact]
    public void The_checksum_of_an_mp3_info_frame_is_crc_16_arc() => Assert.Equal(0xBB3D, Mp3InfoFrame.Crc16("123456789"u8));

    [Fact]
    public void Truncated_file_returns_what_is_there_and_says_so()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var stream = new MemoryStream();
        TestSound.Noise(format, 1000).CopyTo(new WavWriter(stream, format));
        using var reader = new WavReader(new MemoryStream(stream.ToArray()[..2001]));
        Assert.Contains("cut short", reader.Damage[0], StringComparison.Ordinal);
        Assert.Equal((2001 - 80) / 4, SampleDigest.Of(reader).FrameCount);
    }

    [Theory]
    [InlineData("")]
    [InlineData("RIFF")]
    [InlineData("RIFF....WAVE")]
    [InlineData("This is a text that somebody called .wav")]
    public void Non_wav_file_is_refused_with_a_reason(string content)
    {
        var failure = Assert.Throws<UnreadableAudioException>(() => new WavReader(new MemoryStream(Encoding.ASCII.GetBytes(content))));
        Assert.Contains("WAV", failure.Message, StringComparison.Ordinal);
    }

    /// <summary>Any bytes give audio or the one declared exception, and never more samples than bytes.</summary>
    [Fact]
    public void Mutated_files_are_read_or_refused()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 24);
        var wav = new MemoryStream();
        TestSound.Noise(format, 50).CopyTo(new WavWriter(wav, format));
        var aiff = new MemoryStream();
        TestSound.Noise(format, 50).CopyTo(new AiffWriter(aiff, format));
        Gen.Select(Gen.Bool, Gen.Select(Gen.Int[0, 120], Gen.Byte).Array[1, 6], Gen.Int[0, 400]).Sample((asWav, changes, cut) =>
        {
            var bytes = (asWav ? wav : aiff).ToArray();
            foreach (var (at, value) in changes)
                bytes[at] = value;
            bytes = bytes[..Math.Max(0, bytes.Length - cut)];
            try
            {
                using IPcmReader reader = asWav ? new WavReader(new MemoryStream(bytes)) : new AiffReader(new MemoryStream(bytes));
                Assert.True(SampleDigest.Of(reader).FrameCount * reader.Format.BytesPerFrame <= bytes.Length);
            }
            catch (UnreadableAudioException)
            {
                // Refused in words.
            }
        }, iter: 3000);
    }

    private static void AssertSameAfter(
        PcmFormat format, int frames, Func<Stream, PcmFormat, IPcmWriter> write, Func<Stream, IPcmReader> read)
    {
        var stream = new MemoryStream();
        var md5 = TestSound.Noise(format, frames, frames).CopyTo(write(stream, format));
        using var reader = read(stream);
        Assert.Equal(format.Rate, reader.Format.Rate);
        Assert.Equal((format.Channels, format.Bits, format.Kind), (reader.Format.Channels, reader.Format.Bits, reader.Format.Kind));
        Assert.Equal((md5, (long)frames), SampleDigest.Of(reader));
    }
}
