using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Shared;

/// <summary>The settings of a target as a form sends them. Invalid values change nothing.</summary>
public sealed record TargetForm
{
    /// <summary>The key of the chosen format.</summary>
    public string? Format { get; init; }

    /// <summary>The chosen scale, by index among those of the format.</summary>
    public int? Scale { get; init; }

    /// <summary>The scale on which the step was chosen.</summary>
    public int? Shown { get; init; }

    /// <summary>The step chosen.</summary>
    public int? Step { get; init; }

    /// <summary>In hertz; negative for at most that, 0 for the source's own.</summary>
    public int? Rate { get; init; }

    /// <summary>As <see cref="Rate"/>, in bits.</summary>
    public int? Bits { get; init; }

    public ChannelChoice? Channels { get; init; }

    /// <summary>A <see cref="LevelKind"/> by name; anything else for the level of the source, nothing for no change.</summary>
    public string? Level { get; init; }

    /// <summary>In LUFS.</summary>
    public double? Loudness { get; init; }

    /// <summary>In dBTP.</summary>
    public double? Ceiling { get; init; }

    public bool? AlbumAsOne { get; init; }

    /// <summary>True to leave out samples of zero at both ends.</summary>
    public bool? Trim { get; init; }

    /// <summary>In seconds; nothing for no change.</summary>
    public double? FadeIn { get; init; }

    public double? FadeOut { get; init; }

    public Dither? Dither { get; init; }

    /// <summary>By index in <see cref="TargetOptions.ArtworkRules"/>.</summary>
    public int? Artwork { get; init; }

    public ConflictRule? Taken { get; init; }

    /// <summary>3 or 4.</summary>
    public int? TagVersion { get; init; }

    public OutputLocation? Place { get; init; }

    public SourceDisposition? Originals { get; init; }

    /// <summary>True to keep the copies out of the library.</summary>
    public bool? Outside { get; init; }

    /// <summary>Encode what already is as wanted.</summary>
    public bool? Again { get; init; }

    /// <summary>
    /// The target with these settings. Another format starts with its default quality, whatever was shown for the previous one.
    /// </summary>
    public Target ApplyTo(Target target)
    {
        target = target with
        {
            EncodesAgain = Again ?? target.EncodesAgain,
            Channels = Channels ?? target.Channels,
            Level = LevelOf(target.Level),
            TrimsSilence = Trim ?? target.TrimsSilence,
            Fade = FadeOf(target.Fade),
            Dither = Dither ?? target.Dither
        };
        target = target with
        {
            OnConflict = Taken ?? target.OnConflict,
            Id3v2Version = TagVersion switch { 3 => null, 4 => 4, _ => target.Id3v2Version },
            Place = Place ?? target.Place,
            Sources = Originals ?? target.Sources,
            ExcludedFromLibrary = Outside ?? target.ExcludedFromLibrary,
        };
        if (TargetOptions.ArtworkRules.ElementAtOrDefault(Artwork ?? -1) is { } rule)
            target = target with { Artwork = rule == ArtworkRule.Everything ? null : rule };
        if (FileFormats.Find(Format) is WritableFormat other && other != target.Format)
            return target with { Encoder = other.UsualSettings };
        if (Rate is { } hertz && (hertz == 0 || TargetOptions.RatesOf(target.Format).Contains(Math.Abs(hertz))))
            target = target with
            {
                Rate = hertz > 0 ? new SampleRate(hertz) : null,
                HighestRate = hertz < 0 ? new SampleRate(-hertz) : null
            };
        if (Bits is { } depth && (depth == 0 || TargetOptions.BitChoices.Contains(Math.Abs(depth))))
            target = target with { Bits = depth > 0 ? depth : null, MaxBits = depth < 0 ? -depth : null };
        // Switching to another scale starts with its usual step.
        return target.Format.Scales.ElementAtOrDefault(Scale ?? Shown ?? 0) is { } chosen
            ? target with
            {
                Encoder = Scale is { } wanted && wanted != Shown
                    ? chosen.Usual
                    : chosen.Steps.ElementAtOrDefault(Step ?? -1) ?? target.Encoder
            }
            : target;
    }

    /// <summary>Fades outside of the possible range are limited to it.</summary>
    private FadeTimes? FadeOf(FadeTimes? before)
    {
        var (fadeIn, fadeOut) = (Limited(FadeIn, before?.In), Limited(FadeOut, before?.Out));
        return fadeIn + fadeOut > TimeSpan.Zero ? new FadeTimes(fadeIn, fadeOut) : null;

        static TimeSpan Limited(double? typed, TimeSpan? known) =>
            typed is { } seconds
                ? TimeSpan.FromSeconds(Math.Clamp(double.IsFinite(seconds) ? seconds : 0, 0, FadeTimes.Max.TotalSeconds))
                : known ?? TimeSpan.Zero;
    }

    private LevelRule? LevelOf(LevelRule? before)
    {
        if (Level is null)
            return before;
        if (!Enum.TryParse(Level, out LevelKind kind) || !Enum.IsDefined(kind))
            return null;
        var rule = (before ?? new LevelRule(kind)) with { Kind = kind };
        // Invalid numbers change nothing.
        var typed = rule with
        {
            Loudness = Loudness ?? rule.Loudness,
            Ceiling = Ceiling ?? rule.Ceiling,
            AlbumAsOne = AlbumAsOne ?? rule.AlbumAsOne
        };
        return typed.Problem is null ? typed : rule;
    }
}
