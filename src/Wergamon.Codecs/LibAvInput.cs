using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Registry;
using static Wergamon.Codecs.LibAv;
using Layout = Wergamon.Codecs.LibAvLayout;

namespace Wergamon.Codecs;

/// <summary>A file that libav has opened, and its audio stream.</summary>
internal sealed unsafe class LibAvInput : IDisposable
{
    private const int ForReading = 1;

    private readonly int _streamIndex;
    private readonly string? _path;
    private LibAvStream? _stream;
    private SafeFileHandle? _file;
    private nint _reading;
    private nint _context;

    /// <param name="path">A file on this machine.</param>
    /// <param name="sound">Which of several audio streams, from 0; null for the default one.</param>
    /// <exception cref="UnreadableAudioException">It holds no such sound.</exception>
    public LibAvInput(string path, int? sound = null) : this(path, null, sound)
    {
    }

    /// <param name="stream">Stays open. One that cannot seek is read from front to back.</param>
    /// <exception cref="UnreadableAudioException">It holds no sound.</exception>
    public LibAvInput(Stream stream) : this(null, stream, null)
    {
    }

    private LibAvInput(string? path, Stream? stream, int? sound)
    {
        _path = path;
        try
        {
            Sounds = Open(stream);
            _streamIndex = FindSound(sound);
        }
        catch
        {
            Dispose();
            throw;
        }
    }

    /// <summary>The AVFormatContext.</summary>
    public nint Context => _context;

    /// <summary>Indexes of all audio streams among those of the file.</summary>
    public IReadOnlyList<int> Sounds { get; } = [];

    /// <summary>The AVStream of the sound.</summary>
    public nint Stream => StreamAt(_streamIndex);

    /// <summary>Its AVCodecParameters.</summary>
    public nint Parameters => ParametersAt(_streamIndex);

    /// <summary>The codec's short name in lower case: "mp3", "aac", "flac".</summary>
    public string CodecName =>
        Marshal.PtrToStringUTF8(avcodec_get_name(Field<int>(Parameters, Layout.CodecParameters.CodecId))) ?? "unknown";

    /// <summary>Index of the audio stream in <see cref="Sounds"/>.</summary>
    public int Sound => Sounds.ToList().IndexOf(_streamIndex);

    /// <summary>Language and title of the stream, as stated in the file; may be empty.</summary>
    public string Name =>
        string.Join(", ", new[] { TagOf("language"), TagOf("title") }.Where(part => part is { Length: > 0 } and not "und"));

    /// <summary>Reads the next packet of the sound; libav's error code at the end.</summary>
    public int ReadPacket(nint packet)
    {
        while (true)
        {
            int result = av_read_frame(_context, packet);
            if (result < 0 || Field<int>(packet, Layout.Packet.StreamIndex) == _streamIndex)
                return result;
            av_packet_unref(packet);
        }
    }

    public void Dispose() => Close();

    private void Close()
    {
        fixed (nint* context = &_context)
        {
            if (_context != 0)
                avformat_close_input(context);
        }

        fixed (nint* reading = &_reading)
        {
            if (_reading != 0)
                _ = avio_closep(reading);
        }

        _file?.Dispose();
        _stream?.Dispose();
        (_file, _stream) = (null, null);
    }

    /// <summary>Opens the file and returns the indexes of its audio streams.</summary>
    private List<int> Open(Stream? stream)
    {
        long start = stream is { CanSeek: true } ? stream.Position : 0;
        int result = Open(stream, demuxer: 0);
        var sounds = result < 0 ? [] : FindSounds();
        if (sounds.Count == 0 && IsMp3(stream))
        {
            // From a few frames alone libav guesses something else than MP3, or nothing.
            if (stream is not null)
                stream.Position = start;
            result = Open(stream, av_find_input_format("mp3"));
            sounds = result < 0 ? [] : FindSounds();
        }

        return result < 0 ? throw new UnreadableAudioException($"The file cannot be opened as audio: {Describe(result)}.") : sounds;
    }

    /// <exception cref="UnreadableAudioException">The file is damaged beyond reading.</exception>
    private List<int> FindSounds()
    {
        int result = avformat_find_stream_info(_context, null);
        return result < 0
            ? throw new UnreadableAudioException($"The file cannot be understood: {Describe(result)}.")
            : [.. Enumerable.Range(0, Field<int>(_context, Layout.FormatContext.StreamCount)).Where(IsSound)];
    }

    /// <param name="demuxer">An AVInputFormat; 0 for libav to find it.</param>
    /// <returns>libav's error code.</returns>
    private int Open(Stream? stream, nint demuxer)
    {
        Close();
        nint context = avformat_alloc_context(), options = 0;
        if (stream is not null)
            _stream = new LibAvStream(stream, forWriting: false);
        else if (OpenFile() is < 0 and var error)
            return error;
        Field<nint>(context, Layout.FormatContext.Pb) = _stream?.Context ?? _reading;
        // What is opened is open by now: a playlist or a redirecting container must not reach anything else, files included.
        av_dict_set(&options, "protocol_whitelist", "none", 0);
        int result = avformat_open_input(&context, _path ?? "", demuxer, &options);
        av_dict_free(&options);
        _context = context;
        return result;
    }

    /// <summary>Lets libav read the file itself, through a handle that no exchanged link can redirect (proc(5), /proc/self/fd).</summary>
    private int OpenFile()
    {
        _file = PlainFile.OpenHandle(_path!, FileMode.Open, FileAccess.Read);
        fixed (nint* reading = &_reading)
            return avio_open2(reading, $"file:/proc/self/fd/{_file.DangerousGetHandle()}", ForReading, 0, null);
    }

    private bool IsMp3(Stream? stream)
    {
        if (stream is not null)
            return stream.CanSeek && FileFormats.Of(stream) is Mp3Format;
        using var file = PlainFile.OpenRead(_path!);
        return FileFormats.Of(file) is Mp3Format;
    }

    private nint StreamAt(int index) => (*(nint**)(_context + Layout.FormatContext.Streams))[index];

    private nint ParametersAt(int index) => Field<nint>(StreamAt(index), Layout.Stream.CodecParameters);

    /// <summary>False for a stream that libav takes for audio without knowing a rate or channels.</summary>
    private bool IsSound(int index) =>
        Field<int>(ParametersAt(index), Layout.CodecParameters.CodecType) == MediaTypeAudio
        && Field<int>(ParametersAt(index), Layout.CodecParameters.SampleRate) > 0
        && Field<int>(ParametersAt(index) + Layout.CodecParameters.ChannelLayout, Layout.Layout.Channels) > 0;

    /// <summary>
    /// The first stream that can be decoded is the main one, as the maker of the file ordered them. In ASF several streams are the same
    /// sound at several bitrates, and the best is used.
    /// </summary>
    private int FindSound(int? wanted)
    {
        if (wanted is { } sound)
            return sound >= 0 && sound < Sounds.Count
                ? Sounds[sound]
                : throw new UnreadableAudioException($"There is no audio stream {sound + 1} in this file.");
        string? container = Marshal.PtrToStringUTF8(
            Field<nint>(Field<nint>(_context, Layout.FormatContext.InputFormat), Layout.InputFormat.Name));
        if (Sounds.Count == 0)
            throw new UnreadableAudioException("There is no audio in this file.");
        var decodable = Sounds.Where(index => avcodec_find_decoder(Field<int>(ParametersAt(index), Layout.CodecParameters.CodecId)) != 0)
            .DefaultIfEmpty(Sounds[0]);
        return container == "asf"
            ? decodable.MaxBy(index => Field<long>(ParametersAt(index), Layout.CodecParameters.BitRate))
            : decodable.First();
    }

    private string? TagOf(string key)
    {
        nint entry = av_dict_get(Field<nint>(Stream, Layout.Stream.Metadata), key, 0, 0);
        return entry == 0 ? null : Marshal.PtrToStringUTF8(Field<nint>(entry, Layout.DictionaryEntry.Value));
    }
}
