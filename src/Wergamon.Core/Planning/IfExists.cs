namespace Wergamon.Core.Planning;

/// <summary>What to do when the name of a new copy is taken.</summary>
public enum IfExists
{
    KeepBoth,
    Skip,
    Replace,
}
