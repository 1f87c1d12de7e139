using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Jobs;

public sealed record JobStep(StepKind Kind, PcmFormat Output)
{
    /// <summary>For each channel of the output the one of the input; null but for <see cref="StepKind.Arrange"/>.</summary>
    public IReadOnlyList<int>? Channels { get; init; }

    /// <summary>Null but for <see cref="StepKind.Gain"/>, and there until it has been measured.</summary>
    public double? Decibels { get; init; }

    public Dither Dither { get; init; }

    public FadeTimes? Fade { get; init; }
}

public sealed record JobField(string Name, IReadOnlyList<string> Values);

/// <summary>A picture in a file of its own.</summary>
public sealed record JobPicture(PictureKind Kind, string Path);
