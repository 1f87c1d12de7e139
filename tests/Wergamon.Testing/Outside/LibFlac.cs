using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>libFLAC 1.4 (package libflac12), by its stream decoder interface.</summary>
public static unsafe partial class LibFlac
{
    private const string Library = "FLAC";

    static LibFlac() => OutsideLibraries.Prepare();

    public static OutsideSound Decode(string path)
    {
        nint decoder = FLAC__stream_decoder_new();
        var collected = new Collected();
        var handle = GCHandle.Alloc(collected);
        try
        {
            FLAC__stream_decoder_set_md5_checking(decoder, 1);
            int opened = FLAC__stream_decoder_init_file(decoder, path, &OnFrame, 0, &OnError, GCHandle.ToIntPtr(handle));
            bool whole = opened == 0 && FLAC__stream_decoder_process_until_end_of_stream(decoder) != 0;
            bool md5Right = FLAC__stream_decoder_finish(decoder) != 0;
            if (!whole || !md5Right || collected.Errors > 0)
                throw new InvalidDataException($"libFLAC: opened {opened}, whole {whole}, MD5 right {md5Right}, errors {collected.Errors}");
            return new OutsideSound(collected.Rate, collected.Channels, collected.Bits, [.. collected.Samples]);
        }
        finally
        {
            handle.Free();
            FLAC__stream_decoder_delete(decoder);
        }
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static int OnFrame(nint decoder, uint* header, int** channels, nint client)
    {
        // A frame starts with its header: block size, sample rate, channels, channel assignment, bits.
        var collected = (Collected)GCHandle.FromIntPtr(client).Target!;
        (collected.Rate, collected.Channels, collected.Bits) = ((int)header[1], (int)header[2], (int)header[4]);
        for (uint i = 0; i < header[0]; i++)
        {
            for (int c = 0; c < collected.Channels; c++)
                collected.Samples.Add(channels[c][i]);
        }

        return 0;
    }

    [UnmanagedCallersOnly(CallConvs = [typeof(CallConvCdecl)])]
    private static void OnError(nint decoder, int status, nint client) => ((Collected)GCHandle.FromIntPtr(client).Target!).Errors++;

    [LibraryImport(Library)] private static partial nint FLAC__stream_decoder_new();
    [LibraryImport(Library)] private static partial void FLAC__stream_decoder_delete(nint decoder);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_set_md5_checking(nint decoder, int on);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_process_until_end_of_stream(nint decoder);
    [LibraryImport(Library)] private static partial int FLAC__stream_decoder_finish(nint decoder);

    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int FLAC__stream_decoder_init_file(
        nint decoder, string path, delegate* unmanaged[Cdecl]<nint, uint*, int**, nint, int> onFrame, nint onMetadata,
        delegate* unmanaged[Cdecl]<nint, int, nint, void> onError, nint client);

    private sealed class Collected
    {
        public int Rate { get; set; }

        public int Channels { get; set; }

        public int Bits { get; set; }

        public int Errors { get; set; }

        public List<int> Samples { get; } = [];
    }
}
