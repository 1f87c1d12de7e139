using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Aac;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Alac;
using Wergamon.Core.Formats.Ape;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Formats.Dff;
using Wergamon.Core.Formats.Dsf;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Formats.WavPack;
using Wergamon.Core.Formats.Wma;

namespace Wergamon.Core.Formats;

/// <summary>Writes a format as its key.</summary>
public sealed class FileFormatConverter : JsonConverter<FileFormat>
{
    public override FileFormat? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        FileFormats.Find(reader.GetString());

    public override void Write(Utf8JsonWriter writer, FileFormat value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Key);
}
