using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Zoltric.Web.Forms;

/// <summary>
/// A page that is told to do something it cannot do (<c>?handler=…</c>), or by a method it does not take, is not shown half made: the
/// framework would draw it without running anything first.
/// </summary>
public sealed class KnownHandlerFilter : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        var request = context.HttpContext.Request;
        // To look falls back to the page itself.
        if (context.HandlerMethod is null && !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method))
            context.Result = new StatusCodeResult(
                HttpMethods.IsPost(request.Method) ? StatusCodes.Status404NotFound : StatusCodes.Status405MethodNotAllowed
            );
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
