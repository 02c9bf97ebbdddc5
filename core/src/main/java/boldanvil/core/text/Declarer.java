package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
import boldanvil.core.text.StructuredTextParser.InitializerContext;
import boldanvil.core.text.StructuredTextParser.VarBlockContext;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.tree.TerminalNode;

/** Makes the variables of a function block, a program or a block of a sheet. */
final class Declarer {
    /** Gets each variable that keeps its value, for whoever wants to look at it while the program runs. */
    interface Listener {
        /** @param initial values in the beginning; null where they are in the slots themselves */
        void declared(String name, Symbol.Place place, boolean retained, String address, double[] initial);
    }

    private final Compilation compilation;
    private final Scope scope;
    private final String prefix;
    private final int instances;
    private final Map<String, Symbol.Place> outputs = new LinkedHashMap<>();
    private final Map<String, InitializerContext> given = new HashMap<>();
    private Set<String> transients = Set.of();
    private Listener listener = (_, _, _, _, _) -> { };

    /** @param instances how many instances share each slot */
    Declarer(Compilation compilation, Scope scope, String prefix, int instances) {
        this.compilation = compilation;
        this.scope = scope;
        this.prefix = prefix;
        this.instances = instances;
    }

    Declarer listener(Listener next) {
        listener = next;
        return this;
    }

    Map<String, Symbol.Place> outputs() {
        return outputs;
    }

    /** The variables of the block itself: its inputs are what arrives at the ports. */
    void block(StructuredTextParser.UnitContext unit) {
        if (unit.statements() != null) {
            transients = Transients.of(unit.statements());
        }
        unit.varBlock().forEach(v -> declare(v, true));
    }

    /** The variables of an instance. */
    void variables(List<VarBlockContext> blocks) {
        blocks.forEach(v -> declare(v, false));
    }

    /** The variables of an instance of a function block; {@code initial} gives some of them other values in the beginning. */
    void instance(FunctionBlockContext fb, InitializerContext initial) {
        if (initial != null) {
            initial.memberValue().forEach(m -> given.put(Scope.key(m.ID().getText()), m.initializer()));
        }
        variables(fb.varBlock());
        given.keySet().stream().filter(name -> scope.find(name) == null).findFirst()
                .ifPresent(name -> compilation.mistake(initial.getStart(),
                "'" + fb.name.getText() + "' has no variable '" + name + "'.", "Use one of its inputs or outputs."));
        if (fb.chart() != null) {
            scope.chart(new ChartMemory(compilation.host(), prefix, instances));
        }
    }

    private void declare(VarBlockContext block, boolean outermost) {
        for (DeclarationContext d : block.declaration()) {
            compilation.guarded(() -> {
                DataType type = compilation.types().of(d, scope);
                for (TerminalNode id : d.ID()) {
                    compilation.guarded(() -> {
                        Symbol s = symbol(block, d, id, type, outermost);
                        if (s != null && !scope.add(id.getText(), s)) {
                            compilation.mistake(id.getSymbol(), "There is a variable '" + id.getText() + "' already.",
                                    "Choose another name.");
                        }
                    });
                }
            });
        }
    }

    private Symbol symbol(VarBlockContext block, DeclarationContext d, TerminalNode id, DataType type, boolean outermost) {
        int kind = block.kind.getType();
        String name = id.getText();
        boolean constant = !block.CONSTANT().isEmpty();
        if (outermost) {
            refuseAtPorts(kind, d, type);
        }
        switch (kind) {
            case StructuredTextParser.VAR_IN_OUT -> {
                scope.parameter(new Scope.Parameter(name, Scope.Direction.IN_OUT, type, 0));
                return null;
            }
            case StructuredTextParser.VAR_EXTERNAL -> {
                return external(d, name, type);
            }
            default -> { }
        }
        var initial = given.getOrDefault(Scope.key(name), d.initializer());
        if (constant && type instanceof DataType.Plain p) {
            if (d.initializer() == null) {
                throw Compilation.stop(d, "The constant '" + name + "' has no value.", "Write := and a value behind its type.");
            }
            return new Symbol.Value(new Symbol.Typed(Expr.of(p.type().type(), values().constant(p, d.initializer().expression())),
                    p.type()));
        }
        if (kind == StructuredTextParser.VAR_INPUT && outermost) {
            return new Symbol.Value(new Symbol.Typed(compilation.host().input(name), ((DataType.Plain) type).type()));
        }
        var place = new Symbol.Place(d.ADDRESS() != null ? located(d, type) : storage(kind, d, name, type, initial), !constant
                && kind != StructuredTextParser.VAR_INPUT);
        boolean retained = !block.RETAIN().isEmpty();
        listener.declared(name, place, retained, d.ADDRESS() == null ? "" : d.ADDRESS().getText(),
                d.ADDRESS() == null ? null : values().of(type, initial).get(""));
        if (kind == StructuredTextParser.VAR_INPUT || kind == StructuredTextParser.VAR_OUTPUT) {
            boolean in = kind == StructuredTextParser.VAR_INPUT;
            int edge = d.edge == null ? 0 : d.edge.getType() == StructuredTextParser.R_EDGE ? 1 : -1;
            scope.parameter(new Scope.Parameter(name, in ? Scope.Direction.IN : Scope.Direction.OUT, type, edge));
            if (edge != 0) {
                scope.add(name + " was", new Symbol.Place(new Storage.Cell(Memory.slot(compilation.host(), prefix + name + "_was",
                        Type.BOOL,
                        instances, 0), new DataType.Plain(TextType.BOOL)), true));
            }
            if (!in) {
                outputs.put(name, place);
            }
        }
        return place;
    }

    private static void refuseAtPorts(int kind, DeclarationContext d, DataType type) {
        boolean port = kind == StructuredTextParser.VAR_INPUT || kind == StructuredTextParser.VAR_OUTPUT;
        if (port && !(type instanceof DataType.Plain)) {
            throw Compilation.stop(d, type instanceof DataType.Block ? "A function block can only be declared in VAR."
                    : "A " + type.shown() + " cannot be an input or output of a block.",
                    type instanceof DataType.Block ? "Move it there." : "Give each element an input, or join and split vectors outside.");
        }
        if (kind == StructuredTextParser.VAR_IN_OUT || kind == StructuredTextParser.VAR_EXTERNAL
                || kind == StructuredTextParser.VAR_GLOBAL) {
            throw Compilation.stop(d, "A block on a sheet has no variables of this kind.",
                    "Use VAR_INPUT and VAR_OUTPUT, which are its ports.");
        }
    }

    private Symbol external(DeclarationContext d, String name, DataType type) {
        Symbol s = compilation.everywhere().find(name);
        if (s == null) {
            throw Compilation.stop(d, "There is no global variable '" + name + "'.", "Declare it in VAR_GLOBAL.");
        }
        if (s instanceof Symbol.Place p && !p.type().shown().equalsIgnoreCase(type.shown())) {
            throw Compilation.stop(d, "The global variable '" + name + "' is a " + p.type().shown() + ", not a " + type.shown() + ".",
                    "Write the same type in both places.");
        }
        return s;
    }

    private InitialValues values() {
        return new InitialValues(new BodyCompiler(compilation, scope, null).expressions());
    }

    private Storage storage(int kind, DeclarationContext d, String name, DataType type, InitializerContext initial) {
        var host = compilation.host();
        if (type instanceof DataType.Plain p) {
            boolean local = kind == StructuredTextParser.VAR_TEMP || transients.contains(Scope.key(name));
            if (local) {
                Slot slot = host.local(prefix + name, p.type().type());
                if (kind == StructuredTextParser.VAR_TEMP) {
                    scope.resets().add(new Stmt.Assign(slot, Expr.of(slot.type(), values().of(p, initial).get("")[0]), host.origin()));
                }
                return new Storage.Cell(slot, p);
            }
        } else if (kind == StructuredTextParser.VAR_TEMP) {
            throw Compilation.stop(d, "Only single values can be declared in VAR_TEMP.", "Declare it in VAR.");
        }
        return instance(d, name, type, instances, initial);
    }

    /** Variables, or the instances of function blocks at the bottom of arrays. */
    private Storage instance(DeclarationContext d, String name, DataType type, int count, InitializerContext initial) {
        if (type instanceof DataType.Row r && bottom(r) instanceof DataType.Block) {
            return new Storage.Row(r, instance(d, name, r.element(), Math.multiplyExact(count, r.size()), null));
        }
        if (type instanceof DataType.Block b) {
            return new Storage.Instance(b, compilation.instance(b.tree(), prefix + name, count, initial, d.getStart()));
        }
        return Memory.allocate(type, prefix + name, count, values().of(type, initial), Memory.lasting(compilation.host()));
    }

    private static DataType bottom(DataType t) {
        return t instanceof DataType.Row r ? bottom(r.element()) : t;
    }

    private Storage located(DeclarationContext d, DataType type) {
        if (!(bottom(type) instanceof DataType.Plain p)) {
            throw Compilation.stop(d, "A " + type.shown() + " cannot lie at an address.", "Give each of its values an address.");
        }
        if (instances > 1) {
            throw Compilation.stop(d, "Several instances would share one address.", "Declare the variable in the program.");
        }
        var address = Address.of(d, d.ADDRESS().getText(), p.type());
        return place(compilation, d, address, type);
    }

    /** The memory at an address. */
    static Storage place(Compilation compilation, ParserRuleContext at, Address address, DataType type) {
        Slot area = compilation.host().area(address.area());
        if (area == null) {
            throw Compilation.stop(at, "Direct addresses exist only in the program of a PLC.", "Use the inputs and outputs of the block.");
        }
        long bits = type.cells() * (address.bits());
        if (address.bit() + bits > area.length() * 8L) {
            throw Compilation.stop(at, "The address is beyond the " + area.length() + " bytes of " + address.areaName() + ".",
                    "Choose a lower address.");
        }
        return Memory.located(type, area, address.bit());
    }
}
