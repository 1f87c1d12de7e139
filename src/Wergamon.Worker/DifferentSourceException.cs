using Wergamon.Core.Jobs;

namespace Wergamon.Worker;

/// <summary>The source decodes to another format than the plan was made for.</summary>
internal sealed class DifferentSourceException(DifferentSourceReply reply) : Exception(reply.Failure)
{
    public DifferentSourceReply Reply => reply;
}
