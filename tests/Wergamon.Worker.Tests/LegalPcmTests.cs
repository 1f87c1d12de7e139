using System.Buffers.Binary;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>Files that are within their standard and seldom seen: all are read and converted.</summary>
public sealed class LegalPcmTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    private static readonly PcmFormat Cd = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>Coded sound in containers that usually hold PCM, and lengths that libav only estimates.</summary>
    [Theory]
    [InlineData("wav", "pcm_alaw", "A-law", false)]
    [InlineData("wav", "pcm_mulaw", "µ-law", false)]
    [InlineData("wav", "adpcm_ms", "ADPCM", false)]
    [InlineData("wav", "libmp3lame", "MP3", false)]
    [InlineData("aiff", "pcm_alaw", "A-law", false)]
    [InlineData("aiff", "pcm_mulaw", "µ-law", false)]
    [InlineData("w64", "pcm_s16le", "PCM", true)]
    [InlineData("caf", "pcm_s16be", "PCM", true)]
    [InlineData("au", "pcm_s16be", "PCM", true)]
    [InlineData("tta", "tta", "TTA", true)]
    [InlineData("mp2", "mp2", "MP2", false)]
    public async Task Sound_that_our_readers_leave_to_a_decoder_is_converted(string container, string codec, string name, bool isLossless)
    {
        var path = EncodedFile.Write(worker.Folder[$"{codec}.{container}"], container, codec, TestSound.Music(Cd, 50_000));
        var facts = await worker.FactsAsync(path);
        Assert.Equal((name, 44_100, 2, isLossless), (facts.CodecName, facts.Format.Rate.Hertz, facts.Format.Channels, facts.IsLossless));
        var proof = await worker.ProveAsync(path, worker.Folder[$"{codec}-{container}.flac"], StandardTargets.BuiltIn[0]);
        Assert.InRange(proof.FramesOut, 50_000, 53_000);
        if (isLossless)
            Assert.Equal(SampleDigest.Of(TestSound.Music(Cd, 50_000)), (proof.SampleMd5!, proof.FramesOut));
    }

    /// <summary>Multiple Channel Audio Data and WAVE Files: wValidBitsPerSample may be less than the container's bits.</summary>
    [Fact]
    public async Task Twenty_four_bits_in_four_bytes_stay_bit_for_bit()
    {
        var format = new PcmFormat(new SampleRate(48_000), 2, 24);
        var plain = worker.Folder["24.wav"];
        using (var writer = new WavWriter(File.Create(plain), format))
            TestSound.Noise(format, 10_000).CopyTo(writer);
        var bytes = File.ReadAllBytes(plain);
        int header = bytes.AsSpan().IndexOf("fmt "u8) + 8, data = bytes.AsSpan().IndexOf("data"u8) + 8;
        var wide = new MemoryStream();
        wide.Write(bytes.AsSpan(0, data));
        for (int at = data; at + 3 <= data + 60_000; at += 3)
            wide.Write([0, bytes[at], bytes[at + 1], bytes[at + 2]]);
        var file = wide.ToArray();
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(header + 8), 48_000 * 8);
        BinaryPrimitives.WriteInt16LittleEndian(file.AsSpan(header + 12), 8);
        BinaryPrimitives.WriteInt16LittleEndian(file.AsSpan(header + 14), 32);
        BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(data - 4), 80_000);
        File.WriteAllBytes(worker.Folder["24-in-32.wav"], file);
        Assert.Equal(24, (await worker.FactsAsync(worker.Folder["24-in-32.wav"])).Format.Bits);
        var proof = await worker.ProveAsync(worker.Folder["24-in-32.wav"], worker.Folder["24-in-32.flac"], StandardTargets.BuiltIn[0]);
        Assert.Equal(SampleDigest.Of(TestSound.Noise(format, 10_000)), (proof.SampleMd5!, proof.FramesOut));
    }

    [Fact]
    public async Task An_unfinished_recording_is_read_to_the_end_of_the_file()
    {
        var path = worker.MakeWav("unfinished.wav", Cd, 20_000);
        var bytes = File.ReadAllBytes(path);
        bytes.AsSpan(4, 4).Clear();
        bytes.AsSpan(bytes.AsSpan().IndexOf("data"u8) + 4, 4).Clear();
        File.WriteAllBytes(path, bytes);
        var facts = await worker.FactsAsync(path);
        Assert.Equal(20_000, facts.FrameCount);
        Assert.Contains("not finished", Assert.Single(facts.Damage), StringComparison.Ordinal);
        Assert.Equal(20_000, (await worker.ProveAsync(path, worker.Folder["unfinished.flac"], StandardTargets.BuiltIn[0])).FramesOut);
    }

    /// <summary>libav reads the layout that we write, and the samples behind it.</summary>
    [Theory]
    [InlineData(6, ChannelRoles.Surround51)]
    [InlineData(6, ChannelRoles.Surround51Back)]
    [InlineData(3, ChannelRoles.Stereo | ChannelRoles.LowFrequency)]
    public async Task Aiff_with_many_channels_states_which_is_which(int channels, ChannelRoles roles)
    {
        var format = new PcmFormat(new SampleRate(48_000), channels, 24) { Roles = roles };
        var source = worker.MakeWav($"many-{(int)roles}.wav", format, 5_000);
        var output = worker.Folder[$"many-{(int)roles}.aiff"];
        await worker.ProveAsync(source, output, StandardTargets.BuiltIn[2]);
        Assert.Equal(roles, (await worker.FactsAsync(output)).Format.Roles);
        using var reader = new Codecs.LibAvReader(output);
        Assert.Equal(roles, reader.Format.Roles);
        Assert.Equal(SampleDigest.Of(TestSound.Noise(format, 5_000)), SampleDigest.Of(reader));
    }

    /// <summary>RFC 9639, section 8.2: the checksum is over samples extended by their sign to whole bytes.</summary>
    [Theory]
    [InlineData(12)]
    [InlineData(20)]
    public async Task Flac_of_odd_depths_is_whole(int bits)
    {
        const int Frames = 4096, Value = -1234;
        var path = worker.Folder[$"odd-{bits}.flac"];
        File.WriteAllBytes(path, ConstantFlac(bits, Value, Frames));
        Assert.Equal((bits, (long)Frames), ((await worker.FactsAsync(path)).Format.Bits, (await worker.FactsAsync(path)).FrameCount));
        var reply = Assert.IsType<AnalysisReply>(await worker.AskAsync(new AnalysisJob(path)));
        Assert.Empty(reply.Analysis.Damage);
        var proof = await worker.ProveAsync(path, worker.Folder[$"odd-{bits}.wav"], StandardTargets.BuiltIn[3]);
        Assert.Equal((Frames, reply.Analysis.Digest), (proof.FramesOut, proof.SampleMd5));
    }

    /// <summary>A mono stream of one frame with a constant subframe (RFC 9639, sections 8.2, 9.1, 9.2.3).</summary>
    private static byte[] ConstantFlac(int bits, int value, int frames)
    {
        const int Rate = 44_100;
        int width = (bits + 7) / 8;
        var samples = new byte[frames * width];
        for (int i = 0; i < samples.Length; i++)
            samples[i] = (byte)(value >> (8 * (i % width)));
        ulong packed = (ulong)Rate << 44 | (ulong)(bits - 1) << 36 | (uint)frames;
        byte[] streamInfo = [
            0x10, 0, 0x10, 0, 0, 0, 0, 0, 0, 0, .. BitConverter.GetBytes(BinaryPrimitives.ReverseEndianness(packed)), .. Md5(samples)
        ];
        int depthCode = bits == 12 ? 2 : 5;
        byte[] head = [0xFF, 0xF8, 0xC9, (byte)(depthCode << 1), 0];
        ulong subframe = (ulong)(value & ((1 << bits) - 1)) << (64 - 8 - bits);
        byte[] body = [.. BitConverter.GetBytes(BinaryPrimitives.ReverseEndianness(subframe))[..((8 + bits + 7) / 8)]];
        byte[] frame = [.. head, Crc8(head), .. body];
        ushort crc = Crc16(frame);
        return [.. "fLaC"u8, 0x80, 0, 0, 34, .. streamInfo, .. frame, (byte)(crc >> 8), (byte)crc];
    }

    private static byte[] Md5(byte[] bytes)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
        hash.AppendData(bytes);
        return hash.GetHashAndReset();
    }

    private static byte Crc8(ReadOnlySpan<byte> bytes)
    {
        int crc = 0;
        foreach (byte value in bytes)
        {
            crc ^= value;
            for (int bit = 0; bit < 8; bit++)
                crc = (crc & 0x80) != 0 ? crc << 1 ^ 0x107 : crc << 1;
        }

        return (byte)crc;
    }

    private static ushort Crc16(ReadOnlySpan<byte> bytes)
    {
        int crc = 0;
        foreach (byte value in bytes)
        {
            crc ^= value << 8;
            for (int bit = 0; bit < 8; bit++)
                crc = (crc & 0x8000) != 0 ? crc << 1 ^ 0x1_8005 : crc << 1;
        }

        return (ushort)crc;
    }
}
