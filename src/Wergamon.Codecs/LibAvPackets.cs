using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;

using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>The packets of the sound of any file that libav opens, undecoded.</summary>
internal sealed unsafe class LibAvPackets : ICodedSound
{
    private readonly LibAvInput _input;
    private nint _packet = av_packet_alloc();

    /// <param name="path">A file on this machine.</param>
    /// <param name="sound">Which of several audio streams, from 0; null for the default one.</param>
    /// <exception cref="UnreadableAudioException">It holds no such sound.</exception>
    public LibAvPackets(string path, int? sound = null) => _input = new LibAvInput(path, sound);

    public ReadOnlySpan<byte> Setup =>
        new(
            Field<nint>(_input.Parameters, Layout.CodecParameters.ExtraData).ToPointer(),
            Field<int>(_input.Parameters, Layout.CodecParameters.ExtraDataSize));

    public int PacketFrames => Field<int>(_input.Parameters, Layout.CodecParameters.FrameSize);

    public bool TryRead(out CodedPacket packet)
    {
        av_packet_unref(_packet);
        int result = _input.ReadPacket(_packet);
        packet = default;
        if (result == ErrorEndOfFile)
            return false;
        if (result < 0)
            throw new UnreadableAudioException($"Reading ended early: {Describe(result)}.");
        nuint length = 0;
        byte* skipped = av_packet_get_side_data(_packet, SideDataSkipSamples, &length);
        packet = new CodedPacket(
            new ReadOnlySpan<byte>(Field<nint>(_packet, Layout.Packet.Data).ToPointer(), Field<int>(_packet, Layout.Packet.Size)),
            (Field<int>(_packet, Layout.Packet.Flags) & PacketFlagDiscard) != 0,
            length >= sizeof(uint) ? (int)BinaryPrimitives.ReadUInt32LittleEndian(new ReadOnlySpan<byte>(skipped, sizeof(uint))) : 0);
        return true;
    }

    /// <summary>Mean bitrate in kbit/s, measured over the first minutes.</summary>
    /// <param name="duration">Length of the sound, for packets without a duration.</param>
    public int MeasureKilobits(TimeSpan duration)
    {
        const double Enough = 120;
        var unit = Field<AvRational>(_input.Stream, Layout.Stream.TimeBase);
        long bytes = 0, ticks = 0;
        double Seconds() => (double)ticks * unit.Numerator / Math.Max(1, unit.Denominator);
        while (Seconds() < Enough && TryRead(out var packet))
        {
            bytes += packet.Data.Length;
            ticks += Field<long>(_packet, Layout.Packet.Duration);
        }

        double seconds = ticks > 0 ? Seconds() : duration.TotalSeconds;
        return seconds > 0 ? (int)Math.Round(Math.Min(int.MaxValue, bytes * 8 / seconds / 1000)) : 0;
    }

    public void Dispose()
    {
        fixed (nint* packet = &_packet)
        {
            if (_packet != 0)
                av_packet_free(packet);
        }

        _input.Dispose();
    }
}
