using System.Text.RegularExpressions;
using Wergamon.Testing;

namespace Wergamon.Core.Tests;

/// <summary>How the sources look: narrow enough to read, and found where their names say.</summary>
public sealed partial class ShapeTests
{
    private const int MaxColumns = 140, MaxFiles = 30, MaxSmallLines = 26, MaxParameters = 8, MaxMembers = 25;

    private static readonly string[] Roots = ["src", "tests", "bench"];

    [Fact]
    public void Lines_have_at_most_140_columns()
    {
        var wide = new[] { "*.cs", "*.cshtml", "*.js", "*.css" }.SelectMany(Sources).SelectMany(path => File.ReadLines(path).Index()
            .Where(line => line.Item.Length > MaxColumns)
            .Select(line => $"{Path.GetRelativePath(Repository.Root, path)}:{line.Index + 1}"));
        Assert.Empty(wide);
    }

    [Fact]
    public void Folders_have_at_most_30_files()
    {
        var full = Sources("*.cs")
            .Concat(Sources("*.cshtml"))
            .CountBy(path => Path.GetDirectoryName(path)!)
            .Where(folder => folder.Value > MaxFiles);
        Assert.Empty(full);
    }

    /// <summary>A file holds the type of its name. What else is in it are records, enumerations and the like of a few lines.</summary>
    [Fact]
    public void A_type_is_found_in_the_file_of_its_name()
    {
        var lost = new List<string>();
        foreach (var path in Sources("*.cs"))
        {
            var file = Path.GetFileName(path);
            var name = file.EndsWith(".cshtml.cs", StringComparison.Ordinal) ? file.Split('.')[0] + "Model" : file.Split('.')[0];
            var types = TypesIn(File.ReadAllLines(path));
            if (types.Count > 0 && types.All(type => type.Name != name))
                lost.Add($"{file} holds {types[0].Name}");
            lost.AddRange(types
                .Where(type => type.Name != name && (type.Lines > MaxSmallLines || type.Kind is "class" or "struct"))
                .Select(type => $"{type.Name} is in {file}"));
        }

        Assert.Empty(lost);
    }

    /// <summary>What needs more is several types, or has properties with names. Rows of a table in the code may have more.</summary>
    [Fact]
    public void Constructors_have_at_most_8_parameters()
    {
        var crowded = Sources("*.cs").SelectMany(path => ConstructorStart().Matches(File.ReadAllText(path)))
            .Where(constructor => constructor.Groups["name"].Value is not "FieldKeys" && CountParameters(constructor) > MaxParameters)
            .Select(constructor => constructor.Groups["name"].Value);
        Assert.Empty(crowded);
    }

    /// <summary>A type that offers more does more than one thing. Constants do not count: a table of names may be long.</summary>
    [Fact]
    public void Types_have_at_most_25_public_members()
    {
        var crowded = Sources("*.cs")
            .Where(path => !path.Contains("/tests/", StringComparison.Ordinal)
                && PublicMember().Count(File.ReadAllText(path)) > MaxMembers)
            .Select(Path.GetFileName);
        Assert.Empty(crowded);
    }

    private static int CountParameters(Match constructor)
    {
        var list = Nested().Replace(constructor.Groups["list"].Value, "");
        return list.Trim().Length == 0 ? 0 : list.Count(c => c == ',') + 1;
    }

    private static IEnumerable<string> Sources(string pattern) => Roots
        .SelectMany(root => Directory.EnumerateFiles(Path.Combine(Repository.Root, root), pattern, SearchOption.AllDirectories))
        .Where(path => !path.Contains("/obj/", StringComparison.Ordinal) && !path.Contains("/lib/", StringComparison.Ordinal)
            && !path.Contains("/node_modules/", StringComparison.Ordinal));

    private static List<(string Kind, string Name, int Lines)> TypesIn(string[] lines)
    {
        var found = new List<(string Kind, string Name, int Lines)>();
        for (int i = 0; i < lines.Length; i++)
        {
            if (TypeStart().Match(lines[i]) is not { Success: true } type)
                continue;
            int end = Array.FindIndex(
                lines, i,
                line => line is "}" || line.EndsWith(';') && !line.StartsWith(' ') || line.EndsWith(");", StringComparison.Ordinal));
            found.Add((type.Groups["kind"].Value, type.Groups["name"].Value, (end < 0 ? lines.Length : end + 1) - i));
        }

        return found;
    }

    /// <summary>A primary constructor, or one whose name is that of the file's type.</summary>
    [GeneratedRegex(
        @"^(?: {4}(?:public|internal|private|protected) (?<name>[A-Z]\w*)"
            + @"|(?:(?:public|internal|static|sealed|abstract|partial|readonly|ref|unsafe) )*(?:record struct|record|class|struct) "
            + @"(?<name>\w+)(?:<[\w, ]+>)?)\((?<list>(?:[^()]|\((?:[^()]|\([^()]*\))*\))*)\)",
        RegexOptions.Multiline)]
    private static partial Regex ConstructorStart();

    /// <summary>A member of a type that is not nested; the type of the file's name has nearly all of them.</summary>
    [GeneratedRegex(@"^ {4}public (?!const )", RegexOptions.Multiline)]
    private static partial Regex PublicMember();

    /// <summary>What is between brackets of any kind, from the inside out.</summary>
    [GeneratedRegex(@"<(?:[^<>]|<(?:[^<>]|<[^<>]*>)*>)*>|\((?:[^()]|\([^()]*\))*\)|\[[^\]]*\]")]
    private static partial Regex Nested();

    [GeneratedRegex(
        @"^(?:(?:public|internal|static|sealed|abstract|partial|readonly|ref|unsafe) )*"
            + @"(?<kind>record struct|record|class|struct|interface|enum|delegate) (?:[\w<>?\[\], ]+ (?=\w+\())?(?<name>\w+)")]
    private static partial Regex TypeStart();
}
