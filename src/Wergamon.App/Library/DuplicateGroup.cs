using Wergamon.Core.Matching;

namespace Wergamon.App.Library;

/// <summary>Files that are duplicates of each other, with what is proposed for each.</summary>
/// <param name="Kind">Why they stand together.</param>
/// <param name="Lines">At least two.</param>
public sealed record DuplicateGroup(DuplicateKind Kind, IReadOnlyList<DuplicateLine> Lines);

/// <summary>A file among its duplicates.</summary>
/// <param name="Track">The track that it is a copy of.</param>
/// <param name="Difference">How it differs from the first of the group, where that is asked; null as long as that is being found out.</param>
public sealed record DuplicateLine(CopyRow Copy, TrackRow Track, TidyAdvice Advice, string? Difference);

/// <summary>How many groups of one kind there are.</summary>
public sealed record DuplicateCount(DuplicateKind Kind, int Groups);

/// <summary>What came of tidying.</summary>
/// <param name="Taken">Files that lie in the trash now.</param>
/// <param name="Bytes">Their size in all.</param>
/// <param name="Refusals">Why others stayed.</param>
public sealed record TidyResult(int Taken, long Bytes, IReadOnlyList<string> Refusals);
