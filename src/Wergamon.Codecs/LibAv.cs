using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using Wergamon.Core.Formats;

namespace Wergamon.Codecs;

/// <summary>The functions of libav that are used, bound by hand.</summary>
internal static unsafe partial class LibAv
{
    private const string AvCodec = LibAvLibraries.Codec;
    private const string AvFormat = LibAvLibraries.Format;
    private const string AvUtil = LibAvLibraries.Util;

    public const int ErrorIo = -5;
    public const int ErrorAgain = -11;
    public const int ErrorEndOfFile = -('E' | 'O' << 8 | 'F' << 16 | ' ' << 24);
    public const int MediaTypeAudio = 1;
    public const int SeekSize = 0x10000;
    public const int LogQuiet = -8;

    /// <summary>AV_PKT_DATA_NEW_EXTRADATA: the final stream header that the FLAC encoder sends at its end.</summary>
    public const int SideDataNewExtradata = 1;

    /// <summary>AV_PKT_DATA_SKIP_SAMPLES: how many samples of the packet are not played, at its start and at its end.</summary>
    public const int SideDataSkipSamples = 11;

    /// <summary>AV_PKT_FLAG_DISCARD: decoded, but not played.</summary>
    public const int PacketFlagDiscard = 4;

    static LibAv() => NativeLibrary.SetDllImportResolver(typeof(LibAv).Assembly, LibAvLibraries.Resolve);

    [LibraryImport(AvCodec)] public static partial uint avcodec_version();
    [LibraryImport(AvFormat)] public static partial uint avformat_version();
    [LibraryImport(AvUtil)] public static partial uint avutil_version();
    [LibraryImport(AvUtil)] public static partial void av_log_set_level(int level);
    [LibraryImport(AvUtil)] public static partial int av_strerror(int error, byte* text, nuint size);
    [LibraryImport(AvUtil)] public static partial void* av_malloc(nuint size);
    [LibraryImport(AvUtil)] public static partial void av_free(void* memory);
    [LibraryImport(AvUtil, StringMarshalling = StringMarshalling.Utf8)]
    public static partial int av_opt_set(
        nint target, string name, string value, int flags);
    [LibraryImport(AvUtil, StringMarshalling = StringMarshalling.Utf8)]
    public static partial int av_dict_set(
        nint* dictionary, string key, string value, int flags);
    [LibraryImport(AvUtil, StringMarshalling = StringMarshalling.Utf8)]
    public static partial nint av_dict_get(
        nint dictionary, string key, nint previous, int flags);
    [LibraryImport(AvUtil)] public static partial void av_dict_free(nint* dictionary);

    [LibraryImport(AvUtil)] public static partial nint av_frame_alloc();
    [LibraryImport(AvUtil)] public static partial void av_frame_free(nint* frame);
    [LibraryImport(AvUtil)] public static partial int av_frame_get_buffer(nint frame, int align);
    [LibraryImport(AvUtil)] public static partial int av_frame_make_writable(nint frame);
    [LibraryImport(AvUtil)] public static partial int av_channel_layout_copy(nint to, nint from);
    [LibraryImport(AvUtil)] public static partial int av_channel_layout_from_mask(nint layout, ulong mask);
    [LibraryImport(AvUtil)] public static partial void av_channel_layout_default(nint layout, int channels);

    [LibraryImport(AvFormat)] public static partial nint avformat_alloc_context();
    [LibraryImport(AvFormat, StringMarshalling = StringMarshalling.Utf8)]
    public static partial int avformat_open_input(
        nint* context, string url, nint format, nint* options);
    [LibraryImport(AvFormat, StringMarshalling = StringMarshalling.Utf8)] public static partial nint av_find_input_format(string name);
    [LibraryImport(AvFormat)] public static partial void avformat_close_input(nint* context);
    [LibraryImport(AvFormat)] public static partial int avformat_find_stream_info(nint context, nint* options);
    [LibraryImport(AvFormat)] public static partial int av_read_frame(nint context, nint packet);
    [LibraryImport(AvFormat, StringMarshalling = StringMarshalling.Utf8)]
    public static partial int avformat_alloc_output_context2(
        nint* context, nint format, string formatName, string? fileName);
    [LibraryImport(AvFormat)] public static partial void avformat_free_context(nint context);
    [LibraryImport(AvFormat)] public static partial nint avformat_new_stream(nint context, nint codec);
    [LibraryImport(AvFormat)] public static partial int avformat_write_header(nint context, nint* options);
    [LibraryImport(AvFormat)] public static partial int av_write_frame(nint context, nint packet);
    [LibraryImport(AvFormat)] public static partial int av_write_trailer(nint context);
    [LibraryImport(AvFormat)]
    public static partial nint avio_alloc_context(
        byte* buffer, int size, int writable, nint opaque,
        delegate* unmanaged[Cdecl]<nint, byte*, int, int> read,
        delegate* unmanaged[Cdecl]<nint, byte*, int, int> write,
        delegate* unmanaged[Cdecl]<nint, long, int, long> seek);
    [LibraryImport(AvFormat)] public static partial void avio_context_free(nint* context);
    [LibraryImport(AvFormat)] public static partial void avio_flush(nint context);
    [LibraryImport(AvFormat, StringMarshalling = StringMarshalling.Utf8)]
    public static partial int avio_open2(
        nint* context, string url, int flags, nint interrupt, nint* options);
    [LibraryImport(AvFormat)] public static partial int avio_closep(nint* context);

    [LibraryImport(AvCodec)] public static partial nint av_packet_alloc();
    [LibraryImport(AvCodec)] public static partial void av_packet_free(nint* packet);
    [LibraryImport(AvCodec)] public static partial void av_packet_unref(nint packet);
    [LibraryImport(AvCodec)] public static partial void av_packet_rescale_ts(nint packet, AvRational from, AvRational to);
    [LibraryImport(AvCodec)] public static partial byte* av_packet_get_side_data(nint packet, int type, nuint* size);
    [LibraryImport(AvCodec)] public static partial nint avcodec_find_decoder(int id);
    [LibraryImport(AvCodec, StringMarshalling = StringMarshalling.Utf8)]
    public static partial nint avcodec_find_encoder_by_name(string name);
    [LibraryImport(AvCodec)] public static partial nint avcodec_get_name(int id);
    [LibraryImport(AvCodec)] public static partial nint avcodec_alloc_context3(nint codec);
    [LibraryImport(AvCodec)] public static partial void avcodec_free_context(nint* context);
    [LibraryImport(AvCodec)] public static partial int avcodec_parameters_to_context(nint context, nint parameters);
    [LibraryImport(AvCodec)] public static partial int avcodec_parameters_from_context(nint parameters, nint context);
    [LibraryImport(AvCodec)] public static partial int avcodec_open2(nint context, nint codec, nint* options);
    [LibraryImport(AvCodec)] public static partial int avcodec_send_packet(nint context, nint packet);
    [LibraryImport(AvCodec)] public static partial int avcodec_receive_frame(nint context, nint frame);
    [LibraryImport(AvCodec)] public static partial int avcodec_send_frame(nint context, nint frame);
    [LibraryImport(AvCodec)] public static partial int avcodec_receive_packet(nint context, nint packet);

    /// <summary>A field of a native structure, by its offset in <see cref="LibAvLayout"/>.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static ref T Field<T>(nint structure, int offset) where T : unmanaged => ref *(T*)(structure + offset);

    public static string Describe(int error)
    {
        byte* text = stackalloc byte[128];
        return av_strerror(error, text, 128) == 0 ? Marshal.PtrToStringUTF8((nint)text)! : $"error {error}";
    }

    /// <summary>Throws for a failure that no input should cause.</summary>
    public static int Check(int result, string doing) =>
        result >= 0 ? result : throw new CodecException($"{doing}: {Describe(result)}.");
}
