using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Zoltric.Web.Forms;

/// <summary>
/// A page that is asked for something it cannot do (<c>?handler=…</c>), or by a method it does not take, is not shown half made: the
/// framework would draw it without running anything first.
/// </summary>
public sealed class KnownHandlerFilter : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        var request = context.HttpContext.Request;
        var looks = HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method);
        if (context.HandlerMethod is null && (!looks || request.Query.ContainsKey("handler")))
            context.Result = new StatusCodeResult(
                looks || HttpMethods.IsPost(request.Method) ? StatusCodes.Status404NotFound : StatusCodes.Status405MethodNotAllowed
            );
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
