namespace Wergamon.Core.Sync;

/// <summary>How a track of a mirror differs from its file there.</summary>
public enum MirrorState
{
    UpToDate,

    /// <summary>It has no file there yet.</summary>
    New,

    /// <summary>Its file is no longer there.</summary>
    Lost,

    /// <summary>Its sound has changed, or what the target makes of it.</summary>
    Sound,

    /// <summary>Only its tags or pictures have changed.</summary>
    Tags,

    /// <summary>Only its place has changed.</summary>
    Moved,

    /// <summary>It is no longer in this part of the library.</summary>
    Gone,

    /// <summary>Its source has been written to, and an analysis has yet to tell whether the sound has changed.</summary>
    NotAnalysed,

    /// <summary>Its source is missing; the file stays.</summary>
    SourceMissing,
}
