namespace Wergamon.Core.Planning;

/// <summary>What one track of a plan does otherwise than its target says; null where it does the same.</summary>
public sealed record TrackException
{
    public SoundChoice? Sound { get; init; }

    /// <summary>The file name without its extension.</summary>
    public string? Name { get; init; }

    public bool IsEmpty => Sound is null && Name is null;

    public Target ApplyTo(Target target) => Sound?.ApplyTo(target) ?? target;

    /// <summary>The exception that makes the one target of the other; none where they sound alike.</summary>
    public TrackException With(Target target, Target changed) =>
        this with { Sound = SoundChoice.Of(changed) is var sound && sound == SoundChoice.Of(target) ? null : sound };
}
