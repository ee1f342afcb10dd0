using System.Security.Cryptography;
using System.Text;
using Htmx;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Razor.TagHelpers;
using Zoltric.Store;

namespace Zoltric.Web.Forms;

/// <summary>Gives each form that is shown an id of its own.</summary>
[HtmlTargetElement("form", Attributes = "[method=post]")]
public sealed class OnceTagHelper : TagHelper
{
    internal const string Field = "once";

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        ArgumentNullException.ThrowIfNull(output);
        output.PostContent.AppendHtml($"<input type=\"hidden\" name=\"{Field}\" value=\"{Guid.NewGuid():N}\">");
    }
}

/// <summary>
/// A form that arrives a second time, with the same id and the same words, is not done again: its answer got lost, or it was pressed
/// twice. The page is shown as it stands now.
/// </summary>
public sealed class OnceFilter(SubmissionStore submissions) : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(next);
        var request = context.HttpContext.Request;
        // A reading has its own, kept with its line for good.
        if (
            !HttpMethods.IsPost(request.Method)
            || context.HandlerMethod?.Name is "Reading"
            || !request.HasFormContentType
            || request.Form[OnceTagHelper.Field].ToString() is not { Length: > 0 and <= 64 }
        )
        {
            await next();
            return;
        }
        var id = IdOf(request);
        if (!await submissions.Take(id))
        {
            if (request.IsHtmx())
                context.HttpContext.Response.Htmx(h => h.Refresh());
            context.Result = request.IsHtmx() ? new EmptyResult() : new RedirectResult(request.Path);
            return;
        }
        var done = await next();
        // What failed, or was refused with its reasons, may be sent again.
        if (done.Exception is not null && !done.ExceptionHandled || done.Result is PageResult)
            await submissions.Release(id);
    }

    private static string IdOf(HttpRequest request)
    {
        var all = new StringBuilder(request.Path).Append(request.QueryString);
        foreach (
            var (name, values) in request.Form.Where(f => f.Key != "__RequestVerificationToken").OrderBy(f => f.Key, StringComparer.Ordinal)
        )
            all.Append('\0').Append(name).Append('\0').AppendJoin('\0', values.ToArray());
        foreach (var file in request.Form.Files)
            all.Append('\0').Append(file.Name).Append('\0').Append(file.FileName).Append('\0').Append(file.Length);
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(all.ToString())));
    }
}
