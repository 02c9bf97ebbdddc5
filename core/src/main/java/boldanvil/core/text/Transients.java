package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import boldanvil.core.text.StructuredTextParser.ForContext;
import boldanvil.core.text.StructuredTextParser.StatementsContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.tree.ParseTree;
import org.antlr.v4.runtime.tree.TerminalNode;

/**
 * Finds variables that need no memory from one call to the next: those set unconditionally before anything else mentions them,
 * and counters that only their own loop mentions.
 */
final class Transients {
    private final Map<String, ParserRuleContext> setter = new HashMap<>();
    private final Set<String> mentioned = new HashSet<>();
    private final Map<String, Set<ForContext>> loops = new HashMap<>();
    private final Set<String> outside = new HashSet<>();

    private Transients() {}

    static Set<String> of(StatementsContext body) {
        var t = new Transients();
        boolean jumps = contains(body, StructuredTextParser.ReturnContext.class);
        for (var s : body.statement()) {
            if (!jumps && s instanceof AssignmentContext a && a.variable().getChildCount() == 1 && a.variable().ID() != null) {
                t.walk(a.expression(), null);
                String name = Scope.key(a.variable().ID().getText());
                if (t.mentioned.add(name)) {
                    t.setter.put(name, a);
                }
                t.outside.add(name);
            } else {
                t.walk(s, null);
            }
        }
        Set<String> found = new HashSet<>(t.setter.keySet());
        t.loops.forEach((name, all) -> {
            if (all.size() == 1 && !t.outside.contains(name)) {
                found.add(name);
            }
        });
        return found;
    }

    private static boolean contains(ParseTree tree, Class<?> kind) {
        if (kind.isInstance(tree)) {
            return true;
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            if (contains(tree.getChild(i), kind)) {
                return true;
            }
        }
        return false;
    }

    /** @param within the innermost loop around */
    private void walk(ParseTree tree, Set<ForContext> within) {
        if (tree instanceof ForContext f) {
            f.expression().forEach(e -> walk(e, within));
            Set<ForContext> inner = new HashSet<>(within == null ? Set.of() : within);
            inner.add(f);
            String counter = Scope.key(f.ID().getText());
            mentioned.add(counter);
            loops.computeIfAbsent(counter, _ -> new HashSet<>()).add(f);
            walk(f.statements(), inner);
            return;
        }
        if (tree instanceof VariableContext v && v.ID() != null) {
            mention(Scope.key(v.ID().getText()), within);
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            if (!(tree.getChild(i) instanceof TerminalNode)) {
                walk(tree.getChild(i), within);
            }
        }
    }

    private void mention(String name, Set<ForContext> within) {
        mentioned.add(name);
        boolean ofItsLoop = within != null && within.stream().anyMatch(f -> Scope.key(f.ID().getText()).equals(name));
        if (!ofItsLoop) {
            outside.add(name);
        }
    }
}
