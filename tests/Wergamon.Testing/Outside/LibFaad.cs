using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

namespace Wergamon.Testing.Outside;

/// <summary>libfaad2 2.10 (package libfaad2), a decoder of AAC.</summary>
public static unsafe partial class LibFaad
{
    private const string Library = "libfaad.so.2";
    private const int FloatSamples = 4;

    /// <summary>Descriptors of a sample entry (ISO/IEC 14496-1, 7.2.6.7): how the packets are to be decoded.</summary>
    private const byte DecoderSpecific = 5;

    /// <summary>By the numbers of neaacdec.h; 0 is no loudspeaker.</summary>
    private static readonly ChannelRoles[] Positions =
    [
        0, ChannelRoles.FrontCentre, ChannelRoles.FrontLeft, ChannelRoles.FrontRight, ChannelRoles.SideLeft, ChannelRoles.SideRight,
        ChannelRoles.BackLeft, ChannelRoles.BackRight, ChannelRoles.BackCentre, ChannelRoles.LowFrequency,
    ];

    /// <summary>Each channel with its loudspeaker, by what the decoder says of it.</summary>
    public static (int Rate, IReadOnlyList<(ChannelRoles Role, IReadOnlyList<float> Samples)> Channels) Decode(string path)
    {
        var file = new OutsideMp4(path);
        nint decoder = NeAACDecOpen();
        try
        {
            byte* settings = NeAACDecGetCurrentConfiguration(decoder);
            settings[Marshal.OffsetOf<Settings>(nameof(Settings.OutputFormat)).ToInt32()] = FloatSamples;
            // Channels are not to be mixed down.
            settings[Marshal.OffsetOf<Settings>(nameof(Settings.DownMatrix)).ToInt32()] = 0;
            NeAACDecSetConfiguration(decoder, settings);
            var setup = SetupOf(file.Entry.ToArray());
            nuint rate;
            byte count;
            fixed (byte* bytes = setup)
            {
                if (NeAACDecInit2(decoder, bytes, (nuint)setup.Length, &rate, &count) != 0)
                    throw new InvalidDataException("libfaad2 does not take the setup.");
            }

            var samples = new List<List<float>>();
            var roles = new List<ChannelRoles>();
            foreach (var packet in file.Packets)
                Decode(decoder, packet.ToArray(), samples, roles);
            // Mono is given as left and right, since a stream may turn out to carry parametric stereo.
            return ((int)rate, IsMono(setup)
                ? [(ChannelRoles.Mono, samples[0])]
                : [.. roles.Zip(samples, (role, channel) => (role, (IReadOnlyList<float>)channel))]);
        }
        finally
        {
            NeAACDecClose(decoder);
        }
    }

    private static void Decode(nint decoder, byte[] packet, List<List<float>> samples, List<ChannelRoles> roles)
    {
        FrameInfo info;
        float* decoded;
        fixed (byte* bytes = packet)
            decoded = (float*)NeAACDecDecode(decoder, &info, bytes, (nuint)packet.Length);
        if (info.Error != 0)
            throw new InvalidDataException($"libfaad2: {Marshal.PtrToStringUTF8(NeAACDecGetErrorMessage(info.Error))}");
        for (int c = 0; samples.Count < info.Channels; c++)
        {
            samples.Add([]);
            roles.Add(Positions[info.Position[c]]);
        }

        for (int i = 0; i < (int)info.Samples; i++)
            samples[i % info.Channels].Add(decoded[i]);
    }

    /// <summary>By the channel configuration of an AudioSpecificConfig with one of the usual rates (ISO/IEC 14496-3, 1.6.2.1).</summary>
    private static bool IsMono(byte[] setup) => (setup[1] >> 3 & 0xF) == 1;

    private static byte[] SetupOf(byte[] entry)
    {
        // The entry of a sound has 36 bytes before its boxes; the descriptors follow the head of "esds".
        for (int at = 36 + 12; at < entry.Length - 1; at++)
        {
            if (entry[at] != DecoderSpecific)
                continue;
            int length = 0, next = at + 1;
            do
                length = length << 7 | entry[next] & 0x7F;
            while ((entry[next++] & 0x80) != 0);
            if (length is >= 2 and <= 64 && next + length <= entry.Length)
                return entry[next..(next + length)];
        }

        throw new InvalidDataException("The file does not say how its AAC is to be decoded.");
    }

    [LibraryImport(Library)] private static partial nint NeAACDecOpen();
    [LibraryImport(Library)] private static partial void NeAACDecClose(nint decoder);
    [LibraryImport(Library)] private static partial byte* NeAACDecGetCurrentConfiguration(nint decoder);
    [LibraryImport(Library)] private static partial byte NeAACDecSetConfiguration(nint decoder, byte* settings);
    [LibraryImport(Library)]
    private static partial sbyte NeAACDecInit2(nint decoder, byte* setup, nuint length, nuint* rate, byte* channels);

    [LibraryImport(Library)] private static partial nint NeAACDecDecode(nint decoder, FrameInfo* info, byte* packet, nuint length);
    [LibraryImport(Library)] private static partial nint NeAACDecGetErrorMessage(byte error);

    /// <summary>NeAACDecConfiguration of neaacdec.h.</summary>
    [StructLayout(LayoutKind.Sequential)]
    private struct Settings
    {
        public byte ObjectType;
        public nuint Rate;
        public byte OutputFormat;
        public byte DownMatrix;
        public byte UsesOldAdts;
        public byte KeepsRate;
    }

    /// <summary>NeAACDecFrameInfo of neaacdec.h.</summary>
    [StructLayout(LayoutKind.Sequential)]
    private struct FrameInfo
    {
        public nuint BytesConsumed;
        public nuint Samples;
        public byte Channels;
        public byte Error;
        public nuint Rate;
        public byte Sbr;
        public byte ObjectType;
        public byte HeaderType;
        public byte FrontChannels;
        public byte SideChannels;
        public byte BackChannels;
        public byte LowChannels;
        public fixed byte Position[64];
        public byte ParametricStereo;
    }
}
