namespace Wergamon.Core.Planning;

/// <summary>Where copies are put.</summary>
public enum OutputLocation
{
    /// <summary>Into one folder, named by the pattern.</summary>
    Folder,

    /// <summary>Into one folder, with the folders and names that the sources have.</summary>
    SourceTree,

    /// <summary>Into the folder of each source, under its name.</summary>
    BesideSource,
}

/// <summary>What happens to the sources.</summary>
public enum SourceDisposition
{
    Stay,

    /// <summary>Each goes to the trash after its copy was proved.</summary>
    TrashAfterProof,
}
