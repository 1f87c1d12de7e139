namespace Wergamon.App.Deliver;

/// <summary>What tracks are delivered as; in the database by the name in lower case.</summary>
public enum DeliveryKind
{
    /// <summary>An audio disc.</summary>
    Audio,

    /// <summary>A disc of files.</summary>
    Data,

    /// <summary>One long file.</summary>
    Joined,

    /// <summary>Files to be downloaded together.</summary>
    Zip,

    /// <summary>A stick, card or folder that is updated repeatedly.</summary>
    Stick,
}
