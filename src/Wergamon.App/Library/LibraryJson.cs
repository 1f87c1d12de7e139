using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Library;

/// <summary>The form in which the Library keeps documents.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals)]
[JsonSerializable(typeof(CopySpec))]
[JsonSerializable(typeof(CopyCheckpoint))]
[JsonSerializable(typeof(CopyResult))]
[JsonSerializable(typeof(LibraryPart))]
[JsonSerializable(typeof(TrackReading))]
[JsonSerializable(typeof(IReadOnlyList<SoundStream>))]
[JsonSerializable(typeof(string))]
internal sealed partial class LibraryJson : JsonSerializerContext;
