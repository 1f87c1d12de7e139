using System.Text.Json.Serialization;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs.Surround;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.App.Intake;

/// <summary>A title of a surround disc and how its channels are to be used.</summary>
public sealed record SurroundSource(SurroundTitle Title, SurroundChoice Choice)
{
    [JsonIgnore]
    public IReadOnlyList<ChannelRoles> Roles => Choice.RolesOf(Title);

    [JsonIgnore]
    public AudioFacts Facts =>
        new(
            WavFormat.Instance, "disc", Title.FormatWith(Roles), Title.Frames, IsLossless: true,
            (int)(Title.FormatWith(Roles).BitRate / 1000));
}
