// The sheet editor: CodeMirror with the sheet's own marks. Bundled by `npm run build` in src/Zoltric.Web/editor.
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers, highlightActiveLine, drawSelection, highlightSpecialChars } from "@codemirror/view";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { StreamLanguage, syntaxHighlighting, HighlightStyle, bracketMatching } from "@codemirror/language";
import { tags } from "@lezer/highlight";
import { autocompletion, completionKeymap, startCompletion } from "@codemirror/autocomplete";
import { lintGutter, lintKeymap, setDiagnostics, forEachDiagnostic } from "@codemirror/lint";

const words = /^(sheet|machine|family|nominal|drawn|from|control|given|part|path|function|interlock|code|about|reference|stops|when|after|press|release|and|or|not|closed|open|supply|ground|input|output|bus|sleeps|at|reach|hazard|safety|sealed|held)\b/;

const sheet = StreamLanguage.define({
  token(s) {
    if (s.sol() && s.match(/\s*#.*/) || s.match(/\s#.*/)) return "comment";
    if (s.match(/"[^"]*"?/)) return "string";
    if (s.match(/-\[[^\]]*\]?-?/)) return "meta";
    if (s.match(words)) return "keyword";
    if (s.match(/\d+(\.\d+)?[A-Za-zΩµ°%0-9]*/)) return "number";
    if (s.match(/[A-Za-z_][A-Za-z0-9_]*/)) return null;
    s.next();
    return null;
  }
});

const ink = HighlightStyle.define([
  { tag: tags.keyword, color: "var(--petrol)", fontWeight: "700" },
  { tag: tags.string, color: "var(--ochre)" },
  { tag: tags.meta, color: "var(--soft)" },
  { tag: tags.comment, color: "var(--soft)", fontStyle: "italic" },
  { tag: tags.number, color: "var(--ink)" }
]);

const look = EditorView.theme({
  "&": { height: "100%", fontSize: "1rem", backgroundColor: "var(--card)", color: "var(--ink)" },
  ".cm-content": { fontFamily: 'ui-monospace, "DejaVu Sans Mono", monospace', caretColor: "var(--ink)" },
  ".cm-gutters": { backgroundColor: "var(--side)", color: "var(--soft)", border: "0" },
  ".cm-activeLine": { backgroundColor: "transparent", boxShadow: "inset 0 -1px var(--line)" },
  ".cm-cursor": { borderLeftColor: "var(--ink)", borderLeftWidth: "2px" },
  "&.cm-focused .cm-selectionBackground, .cm-selectionBackground": { backgroundColor: "var(--petrol-pale) !important" },
  ".cm-lintRange-error": { backgroundImage: "none", borderBottom: "3px double var(--rust)" },
  ".cm-lintRange-warning": { backgroundImage: "none", borderBottom: "3px dotted var(--ochre)" },
  ".cm-tooltip": { backgroundColor: "var(--card)", color: "var(--ink)", border: "2px solid var(--ink)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { backgroundColor: "var(--ink)", color: "var(--paper)" },
  ".cm-tooltip-autocomplete ul li": { padding: "6px 8px !important" }
});

// field: the textarea that is sent; complete(text, at): promise of { from, options }; changed(text): called as it is typed.
export function open(field, { complete, changed }) {
  const place = document.createElement("div");
  place.className = "editor";
  field.parentNode.insertBefore(place, field);
  field.hidden = true;
  let timer = 0;
  const view = new EditorView({
    parent: place,
    state: EditorState.create({
      doc: field.value,
      extensions: [
        lineNumbers(), history(), drawSelection(), highlightSpecialChars(), highlightActiveLine(), bracketMatching(), lintGutter(), sheet, syntaxHighlighting(ink), look,
        EditorView.contentAttributes.of({ "aria-label": "Sheet", spellcheck: "false", autocapitalize: "off", autocorrect: "off" }),
        autocompletion({ override: [c => c.explicit || /[\p{L}\p{N}_.:=>[]$/u.test(c.state.sliceDoc(Math.max(0, c.pos - 1), c.pos)) ? complete(c.state.doc.toString(), c.pos) : null], activateOnTyping: true }),
        // Alt+Enter takes the first suggestion at the cursor.
        keymap.of([{ key: "Alt-Enter", run: takeSuggestion }, ...lintKeymap, ...completionKeymap, ...defaultKeymap, ...historyKeymap]),
        EditorView.updateListener.of(u => {
          if (!u.docChanged) return;
          field.value = u.state.doc.toString();
          clearTimeout(timer);
          timer = setTimeout(() => changed(field.value), 150);
        })
      ]
    })
  });
  function takeSuggestion(v) {
    const line = v.state.doc.lineAt(v.state.selection.main.head);
    let done = false;
    forEachDiagnostic(v.state, d => { if (!done && d.from >= line.from && d.from <= line.to && d.actions && d.actions.length) { d.actions[0].apply(v, d.from, d.to); done = true; } });
    return done;
  }
  // The scrolled region takes the focus, as WCAG asks of what scrolls.
  view.scrollDOM.tabIndex = 0;
  view.scrollDOM.setAttribute("role", "region");
  view.scrollDOM.setAttribute("aria-label", "Text of the sheet, scrolled");
  changed(field.value);
  return {
    view,
    mark(problems) {
      const doc = view.state.doc;
      view.dispatch(setDiagnostics(view.state, problems.map(p => {
        const line = doc.line(Math.min(Math.max(p.line, 1), doc.lines));
        const from = Math.min(line.from + Math.max(p.column - 1, 0), line.to);
        const length = p.found && doc.sliceString(from, from + p.found.length) === p.found ? p.found.length : Math.max(1, (/^\S+/.exec(doc.sliceString(from, line.to)) || [""])[0].length);
        return {
          from: Math.min(from, line.to), to: Math.min(from + length, Math.max(line.to, from)), severity: p.severity,
          message: p.message + (p.suggestion ? " (" + p.suggestion + ")" : ""),
          actions: p.replacement ? [{ name: "Use " + p.replacement, apply(v, a, b) { v.dispatch({ changes: { from: a, to: b, insert: p.replacement } }); } }] : []
        };
      })));
    },
    go(line, column) {
      const l = view.state.doc.line(Math.min(Math.max(line, 1), view.state.doc.lines));
      const at = Math.min(l.from + column - 1, l.to);
      view.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
      view.focus();
    },
    set(text) { view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } }); },
    complete() { startCompletion(view); }
  };
}
