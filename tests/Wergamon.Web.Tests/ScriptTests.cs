using System.Text.RegularExpressions;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

/// <summary>What the pages say to the scripts: the list in docs/scripts.md, the scripts and the pages agree.</summary>
public sealed partial class ScriptTests
{
    private static readonly string Web = Path.Combine(Repository.Root, "src", "Wergamon.Web");

    private static readonly string Listed = File.ReadAllText(Path.Combine(Repository.Root, "docs", "scripts.md"));

    private static readonly string Scripts = string.Concat(
        Directory.EnumerateFiles(Path.Combine(Web, "wwwroot", "js")).Select(File.ReadAllText));

    [Fact]
    public void Attributes_that_scripts_read_are_listed()
    {
        var read = SelectedAttribute().Matches(Scripts).Select(match => match.Groups["name"].Value)
            .Concat(DatasetName().Matches(Scripts).Select(match => Kebab(match.Groups["name"].Value)))
            .Distinct();
        Assert.Empty(read.Except(ListedAttributes()).Order());
    }

    /// <summary>A script reads it, and a page or a script writes it.</summary>
    [Fact]
    public void Listed_attributes_are_in_use()
    {
        var pages = string.Concat(
            Directory.EnumerateFiles(Web, "*.cs*", SearchOption.AllDirectories)
                .Where(path => !path.Contains("/obj/", StringComparison.Ordinal)).Select(File.ReadAllText));
        foreach (var name in ListedAttributes())
        {
            Assert.True(IsRead(name), $"No script reads data-{name}.");
            Assert.True(
                pages.Contains($"data-{name}", StringComparison.Ordinal) || Scripts.Contains($".{Camel(name)} ", StringComparison.Ordinal)
                    || Scripts.Contains($" {Camel(name)}:", StringComparison.Ordinal)
                    || Scripts.Contains($"{{ {Camel(name)}", StringComparison.Ordinal),
                $"Nothing writes data-{name}.");
        }
    }

    private static HashSet<string> ListedAttributes() =>
        [.. ListedAttribute().Matches(Listed).Select(match => match.Groups["name"].Value)];

    /// <summary>By its own name, or as a part of a panel that is asked for by the rest of the name.</summary>
    private static bool IsRead(string name) =>
        Scripts.Contains($"data-{name}", StringComparison.Ordinal)
        || Regex.IsMatch(Scripts, $@"\b{Camel(name)}\b")
        || Scripts.Contains($"\"{name.Split('-')[^1]}\"", StringComparison.Ordinal);

    private static string Kebab(string camel) => Capital().Replace(camel, match => "-" + match.Value.ToLowerInvariant());

    private static string Camel(string kebab) =>
        string.Concat(kebab.Split('-').Select((part, i) => i == 0 ? part : char.ToUpperInvariant(part[0]) + part[1..]));

    [GeneratedRegex(@"\[data-(?<name>[a-z]+(?:-[a-z]+)*)[\]=~^]")]
    private static partial Regex SelectedAttribute();

    [GeneratedRegex(@"dataset\.(?<name>[a-zA-Z]+)")]
    private static partial Regex DatasetName();

    [GeneratedRegex(@"`data-(?<name>[a-z]+(?:-[a-z]+)*)`")]
    private static partial Regex ListedAttribute();

    [GeneratedRegex("[A-Z]")]
    private static partial Regex Capital();
}
