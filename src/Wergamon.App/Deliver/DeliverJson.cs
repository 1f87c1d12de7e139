using System.Text.Json;
using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.App.Deliver.Sticks;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver;

/// <summary>The form in which deliveries and their runs are kept.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(AudioDiscSettings))]
[JsonSerializable(typeof(AudioTrackSettings))]
[JsonSerializable(typeof(PrepareTrackSpec))]
[JsonSerializable(typeof(PreparedTrack))]
[JsonSerializable(typeof(BurnDiscSpec))]
[JsonSerializable(typeof(BurnDiscResult))]
[JsonSerializable(typeof(BurnCheckResult))]
[JsonSerializable(typeof(TrayContents))]
[JsonSerializable(typeof(DataDiscSettings))]
[JsonSerializable(typeof(JoinedSettings))]
[JsonSerializable(typeof(JoinFileSpec))]
[JsonSerializable(typeof(DataDiscSpec))]
[JsonSerializable(typeof(DataDiscResult))]
[JsonSerializable(typeof(StickSettings))]
[JsonSerializable(typeof(StickNotes))]
[JsonSerializable(typeof(SourceSound))]
[JsonSerializable(typeof(SoundChoice))]
[JsonSerializable(typeof(StickFileSpec))]
[JsonSerializable(typeof(StickFileResult))]
[JsonSerializable(typeof(StickTagSpec))]
[JsonSerializable(typeof(ZipSettings))]
[JsonSerializable(typeof(double?))]
[JsonSerializable(typeof(StickImportSpec))]
internal sealed partial class DeliverJson : JsonSerializerContext;
