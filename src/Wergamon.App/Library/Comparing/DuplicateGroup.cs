using Wergamon.App.Tracks;
using Wergamon.Core.Matching;

namespace Wergamon.App.Library.Comparing;

/// <summary>A group of duplicates with a proposal for each file.</summary>
/// <param name="Kind">Why they are in one group.</param>
/// <param name="Lines">At least two.</param>
public sealed record DuplicateGroup(DuplicateKind Kind, IReadOnlyList<DuplicateLine> Lines);

/// <summary>A file among its duplicates.</summary>
/// <param name="Track">The track that it is a copy of.</param>
/// <param name="Difference">How it differs from the first of the group, if requested; null while that is being computed.</param>
public sealed record DuplicateLine(CopyRow Copy, TrackRow Track, TidyAdvice Advice, string? Difference);

/// <summary>How many groups of one kind there are.</summary>
public sealed record DuplicateCount(DuplicateKind Kind, int Groups);

/// <summary>What came of tidying.</summary>
/// <param name="Taken">Files moved to the trash.</param>
/// <param name="Bytes">Their size in all.</param>
/// <param name="Refusals">Why others stayed.</param>
public sealed record TidyResult(int Taken, long Bytes, IReadOnlyList<string> Refusals);
