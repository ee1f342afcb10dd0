namespace Zoltric.Drawing.Schematic;

/// <summary>
/// Styles of a drawing, carried inside it so that a saved file looks the same. State is told by line style: thick is carrying, double is
/// live without current, dashed is at the return, dotted is joined to nothing.
/// </summary>
internal static class PageStyle
{
    public const string Css = """
        .zd text{font-family:"Atkinson Hyperlegible",sans-serif;fill:var(--ink,#17222d)}
        .zd .use-tag{font-weight:700}.zd .use-words,.zd .use-pin{fill:var(--soft,#4d5963)}.zd .use-bar{font-weight:700}
        .zd .shape *,.zd .lead{fill:none;stroke:var(--ink,#17222d);stroke-width:2}
        .zd .shape .body,.zd .box{fill:var(--card,#fffdf7);stroke:var(--ink,#17222d);stroke-width:2}
        .zd .shape .ink{fill:var(--ink,#17222d)}.zd .shape .heavy{stroke-width:5}
        .zd .shape .glyph{stroke:none;fill:var(--ink,#17222d);font-weight:700;font-size:11px;text-anchor:middle}
        .zd .on .body,.zd .on .box,.zd .on.box{fill:var(--lit,#f3b13c)}
        .zd .half .body,.zd .half .box{fill:var(--ochre-pale,#f6e3bd)}
        .zd .bulkhead{fill:var(--side,#efe8da)}
        .zd .wire{fill:none;stroke:var(--ink,#17222d);stroke-width:2.4}
        .zd .wire.live{stroke-width:6}.zd .inner{fill:none;stroke:var(--card,#fffdf7);stroke-width:3.2}
        .zd .wire.return{stroke-dasharray:11 4}
        .zd .wire.floating{stroke-dasharray:.1 5.5;stroke-linecap:round;stroke-width:3}
        .zd .core{fill:none;stroke-width:1.7}.zd .core.casing{stroke:var(--card,#fffdf7);stroke-width:2.6}.zd .tracer{stroke-dasharray:4 5}
        .zd .bundle{fill:none;stroke:var(--ink,#17222d);stroke-width:1.6}
        .zd .dot{fill:var(--ink,#17222d)}
        .zd .tip{fill:transparent;stroke:none;cursor:crosshair}
        .zd .tip:hover,.zd .tip:focus{stroke:var(--ochre,#a8690a);stroke-width:2.5;outline:none}
        .zd .operate{cursor:pointer}
        .zd .operate:hover .hit,.zd .operate:focus .hit
        {stroke:var(--ochre,#a8690a);stroke-width:2;fill:var(--ochre-pale,#f6e3bd);fill-opacity:.4}
        .zd .operate:focus{outline:none}.zd .hit{fill:transparent;stroke:none}
        .zd .same .hit{stroke:var(--petrol,#0b5d6b);stroke-width:2.5;stroke-dasharray:5 3}
        .zd .fault .hit{stroke:var(--rust,#8f2d12);stroke-width:3}.zd .fault-mark{fill:var(--rust,#8f2d12);font-weight:700}
        .zd .probe-red{fill:#c8201e;stroke:#fff;stroke-width:2}
        .zd .probe-black{fill:#111;stroke:#fff;stroke-width:2}
        .zd .probe-word{font-weight:700;fill:#fff!important;text-anchor:middle}
        .zd .ref{fill:var(--petrol,#0b5d6b);font-weight:700}
        """;
}
