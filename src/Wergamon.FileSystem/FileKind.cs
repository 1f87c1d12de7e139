namespace Wergamon.FileSystem;

/// <summary>What a name refers to, by the bits of stat(2) (inode(7), S_IFMT).</summary>
public enum FileKind
{
    Pipe = 0x1000,
    CharacterDevice = 0x2000,
    Folder = 0x4000,
    BlockDevice = 0x6000,
    Regular = 0x8000,
    Link = 0xA000,
    Socket = 0xC000,
    Mask = 0xF000,
}
