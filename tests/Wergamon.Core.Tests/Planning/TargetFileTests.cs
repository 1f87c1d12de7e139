using System.Text.Json.Nodes;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Planning;

namespace Wergamon.Core.Tests.Planning;

/// <summary>Targets as files: there and back, and refused with a reason.</summary>
public sealed class TargetFileTests
{
    [Fact]
    public void Target_survives_a_round_trip()
    {
        var target = new Target("own-car", "Car", Mp3Settings.Average(192))
        {
            Rate = new SampleRate(44_100),
            MaxBits = 16,
            Channels = ChannelChoice.AtMostStereo,
            OnConflict = ConflictRule.Replace,
            Artwork = new ArtworkRule(ArtworkChoice.FrontOnly, 300),
            Names = "{artist}/{title}",
        };
        Assert.Equal((target, null), TargetFile.Read(TargetFile.Write(target)));
        foreach (var ready in StandardTargets.BuiltIn)
            Assert.Equal((ready, null), TargetFile.Read(TargetFile.Write(ready)));
    }

    [Theory]
    [InlineData("", "This file contains no target.")]
    [InlineData("[1]", "This file contains no target.")]
    [InlineData("{\"key\":\"x\",\"name\":\"Car\"}", "The quality of this target is outside what its format has.")]
    [InlineData("{\"key\":\"x\",\"name\":\" \",\"encoder\":{\"format\":\"wav\"}}", "A target needs a name of at most 60 characters.")]
    [InlineData("{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"tape\"}}", "This file contains no target.")]
    [InlineData(
        "{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"flac\",\"level\":99}}",
        "The quality of this target is outside what its format has.")]
    [InlineData(
        "{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"wav\"},\"rate\":{\"hertz\":1}}",
        "The sample rate of this target is outside 8 to 768 kHz.")]
    [InlineData(
        "{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"wav\"},\"bits\":64}",
        "The bit depth of this target is outside 8 to 32.")]
    [InlineData(
        "{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"wav\"},\"artwork\":{\"choice\":\"All\",\"maxSize\":0}}",
        "The artwork size of this target is outside 16 to 10,000 pixels.")]
    [InlineData("{\"key\":\"x\",\"name\":\"Car\",\"encoder\":{\"format\":\"wav\"},\"names\":\"{\"}", "A brace is not closed.")]
    public void Invalid_target_is_refused_with_the_reason(string text, string problem) =>
        Assert.Equal((null, problem), TargetFile.Read(text));

    /// <summary>The published schema names every field that a file has (JSON Schema 2020-12).</summary>
    [Fact]
    public void The_schema_names_the_fields_of_a_file()
    {
        var schema = JsonNode.Parse(TargetFile.Schema)!["properties"]!.AsObject().Select(property => property.Key).ToHashSet();
        var written = JsonNode.Parse(
            TargetFile.Write(
                StandardTargets.BuiltIn[1] with
                {
                    Names = "{title}",
                    Artwork = ArtworkRule.Everything,
                    Bits = 16,
                    Rate = SampleRate.AudioDisc,
                    MaxBits = 24
                }))!.AsObject();
        Assert.Empty(written.Select(property => property.Key).Except(schema));
        Assert.DoesNotContain("problem", schema);
    }
}
