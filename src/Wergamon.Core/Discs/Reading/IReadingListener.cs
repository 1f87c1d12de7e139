namespace Wergamon.Core.Discs.Reading;

/// <summary>Receives progress on the thread that reads.</summary>
public interface IReadingListener
{
    /// <summary>The track has been read up to this sector.</summary>
    /// <param name="isSecond">True for the second reading, which is compared with the first.</param>
    void Reached(int sector, bool isSecond);

    /// <summary>This sector is being re-read because readings differed.</summary>
    void ReadAgain(int sector);
}
