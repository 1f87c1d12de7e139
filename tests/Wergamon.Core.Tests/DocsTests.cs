using System.Text.RegularExpressions;
using Wergamon.Testing;

namespace Wergamon.Core.Tests;

/// <summary>What README and docs name exists.</summary>
public sealed partial class DocsTests
{
    [Fact]
    public void Types_that_docs_name_exist()
    {
        var sources = new[] { "src", "tests", "bench" }
            .SelectMany(root => Directory.EnumerateFiles(Path.Combine(Repository.Root, root), "*.cs", SearchOption.AllDirectories))
            .Where(path => !path.Contains("/obj/", StringComparison.Ordinal))
            .ToList();
        var known = sources.Select(path => Path.GetFileName(path).Split('.')[0]).ToHashSet();
        var words = new Lazy<HashSet<string>>(() =>
            [.. sources.SelectMany(path => Word().Matches(File.ReadAllText(path))).Select(word => word.Value)]);
        var missing = Directory.EnumerateFiles(Path.Combine(Repository.Root, "docs"), "*.md")
            .Append(Path.Combine(Repository.Root, "README.md"))
            .SelectMany(
                path => Name().Matches(File.ReadAllText(path)),
                (path, name) => (Page: Path.GetFileName(path), Type: name.Groups["type"].Value))
            .Where(name => !known.Contains(name.Type) && !words.Value.Contains(name.Type));
        Assert.Empty(missing);
    }

    /// <summary>A type in code quotes, perhaps behind its folder or with a member.</summary>
    [GeneratedRegex(@"`(?:[A-Z]\w*/)*(?<type>[A-Z][a-z]\w{3,})(?:\.\w+)*(?:\(\))?`")]
    private static partial Regex Name();

    [GeneratedRegex(@"\b[A-Z]\w{4,}")]
    private static partial Regex Word();
}
