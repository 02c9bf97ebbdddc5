package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ApplicationContext;
import boldanvil.core.text.StructuredTextParser.BracketsContext;
import boldanvil.core.text.StructuredTextParser.ConstantContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.ReadContext;
import boldanvil.core.text.Symbol.Typed;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

/** Texts and their functions (IEC 61131-3:2013, table 34). A text ends with a zero in its slot; what does not fit is cut off. */
final class Strings {
    private static final Set<String> GIVE_TEXT = Set.of("LEFT", "RIGHT", "MID", "CONCAT", "INSERT", "DELETE", "REPLACE");
    private static final Set<String> GIVE_NUMBER = Set.of("LEN", "FIND");
    private static final Pattern TO_TEXT = Pattern.compile("(?:([A-Z_]+)_)?TO_(W?STRING)");
    private static final Pattern FROM_TEXT = Pattern.compile("W?STRING_TO_([A-Z]+)");
    /** Decimals of a real number as text. */
    private static final double DECIMALS = 1e6;

    /**
     * A text in memory.
     *
     * @param base where its first character is; null for the beginning of the slot
     */
    record Piece(Slot slot, Expr base, int capacity) {
        Expr at(Expr i) {
            return Expr.at(slot, base == null ? i : base.plus(i));
        }
    }

    private final Expressions expressions;
    private final BodyCompiler body;

    Strings(Expressions expressions, BodyCompiler body) {
        this.expressions = expressions;
        this.body = body;
    }

    /** Names of the functions on texts. */
    static Set<String> names() {
        Set<String> all = new java.util.TreeSet<>(GIVE_TEXT);
        all.addAll(GIVE_NUMBER);
        return all;
    }

    /** Whether a function takes or gives texts. */
    static boolean isKnown(String upper) {
        return GIVE_TEXT.contains(upper) || GIVE_NUMBER.contains(upper) || TO_TEXT.matcher(upper).matches()
                || FROM_TEXT.matcher(upper).matches();
    }

    /** The characters of a text in quotes; null for any other expression. */
    static String literal(ExpressionContext e) {
        if (!(e instanceof ConstantContext c) || c.literal().CHARACTERS() == null) {
            return null;
        }
        String written = c.literal().getText();
        char quote = written.charAt(written.length() - 1);
        String inner = written.substring(written.indexOf(quote) + 1, written.length() - 1);
        var text = new StringBuilder();
        for (int i = 0; i < inner.length(); i++) {
            char ch = inner.charAt(i);
            if (ch != '$' || i + 1 == inner.length()) {
                text.append(ch);
                continue;
            }
            int digits = quote == '"' ? 4 : 2;
            String code = inner.substring(i + 1, Math.min(inner.length(), i + 1 + digits));
            if (code.length() == digits && code.chars().allMatch(x -> Character.digit(x, 16) >= 0)) {
                text.append((char) Integer.parseInt(code, 16));
                i += digits;
            } else {
                i++;
                text.append(switch (Character.toLowerCase(inner.charAt(i))) {
                    case 'l', 'n' -> '\n';
                    case 'p' -> '\f';
                    case 'r' -> '\r';
                    case 't' -> '\t';
                    default -> inner.charAt(i);
                });
            }
        }
        return text.toString();
    }

    /** Whether an expression is a text. */
    boolean isText(ExpressionContext e) {
        return switch (e) {
            case BracketsContext b -> isText(b.expression());
            case ConstantContext c -> c.literal().CHARACTERS() != null;
            case ReadContext r -> expressions.isText(r.variable());
            case ApplicationContext a -> {
                String name = a.variable().getText().toUpperCase(Locale.ROOT);
                yield GIVE_TEXT.contains(name) || TO_TEXT.matcher(name).matches() && expressions.isStandard(name)
                        || expressions.resultOf(a) instanceof DataType.Chars;
            }
            default -> false;
        };
    }

    /** The text an expression gives. */
    Piece value(ExpressionContext e) {
        return switch (e) {
            case BracketsContext b -> value(b.expression());
            case ConstantContext c when literal(c) != null -> constant(literal(c), c.literal().getText().endsWith("\""));
            case ReadContext r when expressions.resolve(r.variable()) instanceof Symbol.Place p && p.storage() instanceof Storage.Text t ->
                piece(t, p.index());
            case ApplicationContext a -> application(a);
            default -> throw Compilation.stop(e, "A text is needed here.", "Write a STRING, or convert the value with TO_STRING.");
        };
    }

    static Piece piece(Storage.Text t, Expr index) {
        int room = t.type().capacity() + 1;
        return new Piece(t.slot(), index == null ? null : index.times(Expr.of(Type.INT32, room)), t.type().capacity());
    }

    private Piece constant(String text, boolean wide) {
        Type type = wide ? Type.UINT16 : Type.UINT8;
        double[] codes = new double[text.length() + 2];
        for (int i = 0; i < text.length(); i++) {
            codes[i] = text.charAt(i);
        }
        return new Piece(body.constants("text", type, codes), null, text.length() + 1);
    }

    private Piece application(ApplicationContext a) {
        String name = a.variable().getText().toUpperCase(Locale.ROOT);
        List<ExpressionContext> given = new ArrayList<>();
        if (!expressions.isStandard(name)) {
            return expressions.text(a);
        }
        for (var x : a.argument()) {
            if (x.expression() == null || x.ID() != null && !x.ID().getText().toUpperCase(Locale.ROOT).matches("IN[0-9]*|L|P|EN")) {
                throw Compilation.stop(x, name + " has no such input.", "Give its inputs in their order.");
            }
            given.add(x.expression());
        }
        var m = TO_TEXT.matcher(name);
        if (m.matches()) {
            expect(a, name, given, 1, 1);
            return number(given.getFirst(), m.group(1) == null ? null : TextType.named(m.group(1)), m.group(2).startsWith("W"));
        }
        int texts = switch (name) {
            case "CONCAT" -> given.size();
            case "INSERT", "REPLACE" -> 2;
            default -> 1;
        };
        expect(a, name, given, switch (name) {
            case "LEFT", "RIGHT", "CONCAT" -> 2;
            case "REPLACE" -> 4;
            default -> 3;
        }, switch (name) {
            case "LEFT", "RIGHT" -> 2;
            case "CONCAT" -> 16;
            case "REPLACE" -> 4;
            default -> 3;
        });
        List<Piece> pieces = given.subList(0, texts).stream().map(this::value).toList();
        List<Expr> numbers = given.subList(texts, given.size()).stream().map(this::whole).toList();
        return compose(name, pieces, numbers);
    }

    private static void expect(ApplicationContext a, String name, List<ExpressionContext> given, int least, int most) {
        if (given.size() < least || given.size() > most) {
            throw Compilation.stop(a, name + " takes " + (least == most ? "" + least : least + " to " + most) + " arguments, not "
                    + given.size() + ".", "Write the same number.");
        }
    }

    /** A count or position, at least 0. */
    private Expr whole(ExpressionContext e) {
        var v = expressions.value(e, TextType.DINT);
        if (!v.type().isInteger()) {
            throw Compilation.stop(e, "A position is a whole number, not a " + v.type() + ".", "Convert it.");
        }
        return body.kept("count", v.expr().as(Type.INT32).max(whole(0)));
    }

    static Expr whole(long n) {
        return Expr.of(Type.INT32, n);
    }

    private Piece compose(String name, List<Piece> in, List<Expr> n) {
        Piece first = in.getFirst();
        int capacity = Math.min(DataType.Chars.MOST, in.stream().mapToInt(Piece::capacity).sum());
        var to = new Piece(body.localArray("text", first.slot().type(), capacity + 1), null, capacity);
        Slot length = body.local("length", Type.INT32);
        body.set(length, whole(0));
        Expr rest = whole(DataType.Chars.MOST);
        switch (name) {
            case "CONCAT" -> in.forEach(p -> append(to, length, p, whole(0), rest));
            case "LEFT" -> append(to, length, first, whole(0), n.getFirst());
            case "RIGHT" -> {
                Expr all = length(first);
                append(to, length, first, body.kept("from", all.minus(n.getFirst()).max(whole(0))), rest);
            }
            case "MID" -> append(to, length, first, from(first, n.get(1).minus(whole(1))), n.get(0));
            case "INSERT" -> {
                append(to, length, first, whole(0), n.getFirst());
                append(to, length, in.get(1), whole(0), rest);
                append(to, length, first, from(first, n.getFirst()), rest);
            }
            default -> {
                // DELETE and REPLACE: what is before the position, what takes the place, what is behind.
                append(to, length, first, whole(0), body.kept("before", n.get(1).minus(whole(1)).max(whole(0))));
                if (name.equals("REPLACE")) {
                    append(to, length, in.get(1), whole(0), rest);
                }
                append(to, length, first, from(first, n.get(1).minus(whole(1)).plus(n.get(0))), rest);
            }
        }
        end(to, length);
        return to;
    }

    /** A position held within the text. */
    private Expr from(Piece p, Expr wanted) {
        Expr all = length(p);
        return body.kept("from", wanted.max(whole(0)).min(all));
    }

    private void end(Piece to, Slot length) {
        store(to, Expr.read(length), Expr.of(to.slot().type(), 0));
    }

    private void store(Piece to, Expr i, Expr ch) {
        body.add(new Stmt.Store(to.slot(), to.base() == null ? i : to.base().plus(i), ch, body.origin()));
    }

    private void append(Piece to, Slot length, Piece from, Expr start, Expr count) {
        Slot i = body.local("i", Type.INT32);
        body.set(i, whole(0));
        Slot ch = body.local("ch", from.slot().type());
        var inner = body.nested(() -> {
            body.set(ch, from.at(start.plus(Expr.read(i))));
            body.add(new Stmt.If(Expr.read(ch).eq(Expr.of(ch.type(), 0)), List.of(new Stmt.Break(body.origin())), List.of(),
                    body.origin()));
            store(to, Expr.read(length), Expr.read(ch).as(to.slot().type()));
            body.set(length, Expr.read(length).plus(whole(1)));
            body.set(i, Expr.read(i).plus(whole(1)));
        });
        Expr goesOn = Expr.read(i).lt(count).and(Expr.read(length).lt(whole(to.capacity())));
        body.add(new Stmt.While(goesOn, DataType.Chars.MOST + 2, inner, body.origin()));
    }

    private Expr length(Piece p) {
        Slot i = body.local("length", Type.INT32);
        body.set(i, whole(0));
        var inner = body.nested(() -> body.set(i, Expr.read(i).plus(whole(1))));
        body.add(new Stmt.While(Expr.read(i).lt(whole(p.capacity())).and(p.at(Expr.read(i)).compare(Op.NE, Expr.of(p.slot().type(), 0))),
                DataType.Chars.MOST + 2, inner, body.origin()));
        return Expr.read(i);
    }

    /** Sets a string. */
    void assign(Storage.Text target, Expr index, ExpressionContext e) {
        copy(piece(target, index), value(e));
    }

    /** Copies a text; the two may not overlap. */
    void copy(Piece to, Piece from) {
        Slot length = body.local("length", Type.INT32);
        body.set(length, whole(0));
        append(to, length, from, whole(0), whole(DataType.Chars.MOST));
        end(to, length);
    }

    /** Compares two texts by the codes of their characters. */
    Typed compare(Op relation, ExpressionContext left, ExpressionContext right) {
        Piece a = value(left);
        Piece b = value(right);
        Slot order = body.local("order", Type.INT32);
        Slot i = body.local("i", Type.INT32);
        body.set(order, whole(0));
        body.set(i, whole(0));
        var inner = body.nested(() -> {
            Slot p = body.local("left", Type.INT32);
            Slot q = body.local("right", Type.INT32);
            body.set(p, a.at(Expr.read(i)).as(Type.INT32));
            body.set(q, b.at(Expr.read(i)).as(Type.INT32));
            body.set(order, Expr.read(p).minus(Expr.read(q)));
            body.add(new Stmt.If(Expr.read(order).compare(Op.NE, whole(0)).or(Expr.read(p).eq(whole(0))),
                    List.of(new Stmt.Break(body.origin())), List.of(), body.origin()));
            body.set(i, Expr.read(i).plus(whole(1)));
        });
        body.add(new Stmt.While(Expr.of(true), DataType.Chars.MOST + 2, inner, body.origin()));
        return new Typed(Expr.read(order).compare(relation, whole(0)), TextType.BOOL);
    }

    /** A function of texts that gives a number; null where the name is none of these. */
    Typed number(ApplicationContext a, String name) {
        List<ExpressionContext> given = a.argument().stream().map(StructuredTextParser.ArgumentContext::expression)
                .filter(java.util.Objects::nonNull).toList();
        if (name.equals("LEN")) {
            expect(a, name, given, 1, 1);
            return new Typed(length(value(given.getFirst())).as(Type.INT16), TextType.INT);
        }
        if (name.equals("FIND")) {
            expect(a, name, given, 2, 2);
            return find(value(given.get(0)), value(given.get(1)));
        }
        var m = FROM_TEXT.matcher(name);
        TextType to = m.matches() ? TextType.named(m.group(1)) : null;
        if (to == null) {
            return null;
        }
        expect(a, name, given, 1, 1);
        if (!to.isNumber()) {
            throw Compilation.stop(a, "A text becomes a number only.", "Convert it to INT, REAL and the like.");
        }
        expressions.compilation().require(to, a);
        if (to.type().isWide()) {
            return new Typed(new WideDigits(expressions, body, this).parsed(value(given.getFirst()), to.type()), to);
        }
        Expr v = parsed(value(given.getFirst()));
        return new Typed((to.isReal() ? v : v.call(Intrinsic.RINT)).as(to.type()), to);
    }

    private Typed find(Piece in, Piece what) {
        Expr all = length(in);
        Expr wanted = length(what);
        Slot at = body.local("found", Type.INT32);
        Slot i = body.local("i", Type.INT32);
        body.set(at, whole(0));
        body.set(i, whole(0));
        var outer = body.nested(() -> {
            Slot k = body.local("k", Type.INT32);
            body.set(k, whole(0));
            var inner = body.nested(() -> body.set(k, Expr.read(k).plus(whole(1))));
            body.add(new Stmt.While(Expr.read(k).lt(wanted).and(in.at(Expr.read(i).plus(Expr.read(k))).as(Type.INT32)
                    .eq(what.at(Expr.read(k)).as(Type.INT32))), DataType.Chars.MOST + 2, inner, body.origin()));
            body.set(i, Expr.read(i).plus(whole(1)));
            var hit = body.nested(() -> {
                body.set(at, Expr.read(i));
                body.add(new Stmt.Break(body.origin()));
            });
            body.add(new Stmt.If(Expr.read(k).compare(Op.GE, wanted), hit, List.of(), body.origin()));
        });
        body.add(new Stmt.While(wanted.gt(whole(0)).and(Expr.read(i).plus(wanted).compare(Op.LE, all)), DataType.Chars.MOST + 2, outer,
                body.origin()));
        return new Typed(Expr.read(at).as(Type.INT16), TextType.INT);
    }

    /** The number at the beginning of a text; a text without one raises a fault and gives 0. */
    private Expr parsed(Piece p) {
        Slot i = body.local("i", Type.INT32);
        Slot sum = body.local("sum", Type.FLOAT64);
        Slot scale = body.local("scale", Type.FLOAT64);
        Slot digits = body.local("digits", Type.INT32);
        Slot minus = body.local("minus", Type.BOOL);
        body.set(i, whole(0));
        body.set(sum, Expr.of(0.0));
        body.set(scale, Expr.of(0.0));
        body.set(digits, whole(0));
        Expr ch = p.at(Expr.read(i)).as(Type.INT32);
        body.set(minus, ch.eq(whole('-')));
        body.set(i, whole(1).when(Expr.read(minus).or(ch.eq(whole('+'))), whole(0)));
        var inner = body.nested(() -> {
            Slot c = body.local("ch", Type.INT32);
            body.set(c, ch);
            Expr digit = Expr.read(c).minus(whole('0'));
            Expr isDigit = digit.compare(Op.GE, whole(0)).and(digit.compare(Op.LE, whole(9)));
            Expr isPoint = Expr.read(c).eq(whole('.')).and(Expr.read(scale).eq(Expr.of(0.0)));
            var take = body.nested(() -> {
                body.set(sum, Expr.read(sum).times(10).plus(digit.as(Type.FLOAT64)));
                body.set(scale, Expr.read(scale).times(10));
                body.set(digits, Expr.read(digits).plus(whole(1)));
            });
            var other = body.nested(() -> {
                body.add(new Stmt.If(isPoint.not(), List.of(new Stmt.Break(body.origin())), List.of(), body.origin()));
                body.set(scale, Expr.of(1.0));
            });
            body.add(new Stmt.If(isDigit, take, other, body.origin()));
            body.set(i, Expr.read(i).plus(whole(1)));
        });
        body.add(new Stmt.While(Expr.read(i).lt(whole(p.capacity())), DataType.Chars.MOST + 2, inner, body.origin()));
        expressions.raise(Expr.read(digits).eq(whole(0)), Fault.DOMAIN);
        Expr value = Expr.read(sum).over(Expr.read(scale).max(Expr.of(1.0)));
        return body.kept("number", value.times(-1).when(Expr.read(minus), value));
    }

    /** A value as text: TRUE or FALSE, a whole number, or a real number with up to six decimals and an exponent where it needs one. */
    private Piece number(ExpressionContext e, TextType from, boolean wide) {
        if (from == null && isText(e)) {
            return value(e);
        }
        var v = expressions.value(e, from);
        v = from == null ? v : expressions.to(v, from, e.getStart());
        if (v.type() == TextType.BOOL) {
            var to = new Piece(body.localArray("text", wide ? Type.UINT16 : Type.UINT8, 8), null, 7);
            Piece yes = constant("TRUE", wide);
            Piece no = constant("FALSE", wide);
            body.add(new Stmt.If(v.expr(), body.nested(() -> copy(to, yes)), body.nested(() -> copy(to, no)), body.origin()));
            return to;
        }
        if (!v.type().isNumber()) {
            throw Compilation.stop(e, "A " + v.type() + " cannot become a text here.", "Convert it to a number first.");
        }
        var to = new Piece(body.localArray("text", wide ? Type.UINT16 : Type.UINT8, 33), null, 32);
        Slot length = body.local("length", Type.INT32);
        body.set(length, whole(0));
        if (v.type().type().isWide()) {
            new WideDigits(expressions, body, this).digits(to, length, v.expr());
            end(to, length);
            return to;
        }
        Slot rest = body.local("rest", Type.FLOAT64);
        body.set(rest, v.expr().as(Type.FLOAT64));
        body.add(new Stmt.If(Expr.read(rest).lt(Expr.of(0.0)), body.nested(() -> {
            put(to, length, whole('-'));
            body.set(rest, Expr.read(rest).negated());
        }), List.of(), body.origin()));
        if (v.type().isInteger()) {
            digits(to, length, rest, false);
        } else {
            real(to, length, rest);
        }
        end(to, length);
        return to;
    }

    /** Appends a character. */
    void put(Piece to, Slot length, Expr code) {
        store(to, Expr.read(length), code.as(to.slot().type()));
        body.set(length, Expr.read(length).plus(whole(1)));
    }

    private void real(Piece to, Slot length, Slot rest) {
        Slot exponent = body.local("exponent", Type.INT32);
        body.set(exponent, whole(0));
        Expr r = Expr.read(rest);
        var down = body.nested(() -> {
            body.set(rest, r.over(Expr.of(10.0)));
            body.set(exponent, Expr.read(exponent).plus(whole(1)));
        });
        var up = body.nested(() -> {
            body.set(rest, r.times(10));
            body.set(exponent, Expr.read(exponent).minus(whole(1)));
        });
        body.add(new Stmt.If(r.compare(Op.GE, Expr.of(1e9)), List.of(new Stmt.While(r.compare(Op.GE, Expr.of(10.0))
                .and(Expr.read(exponent).lt(whole(310))), 400, down, body.origin())), List.of(), body.origin()));
        body.add(new Stmt.If(r.lt(Expr.of(1e-3)).and(r.gt(Expr.of(0.0))), List.of(new Stmt.While(r.lt(Expr.of(1.0)), 400, up,
                body.origin())), List.of(), body.origin()));
        body.set(rest, r.times(DECIMALS).call(Intrinsic.RINT));
        Slot whole = body.local("whole", Type.FLOAT64);
        body.set(whole, r.over(Expr.of(DECIMALS)).call(Intrinsic.FLOOR));
        body.set(rest, r.minus(Expr.read(whole).times(DECIMALS)));
        digits(to, length, whole, false);
        put(to, length, whole('.'));
        digits(to, length, rest, true);
        body.add(new Stmt.If(Expr.read(exponent).compare(Op.NE, whole(0)), body.nested(() -> {
            put(to, length, whole('E'));
            body.add(new Stmt.If(Expr.read(exponent).lt(whole(0)), body.nested(() -> put(to, length, whole('-'))), List.of(),
                    body.origin()));
            Slot size = body.local("size", Type.FLOAT64);
            body.set(size, Expr.read(exponent).as(Type.FLOAT64).call(Intrinsic.ABS));
            digits(to, length, size, false);
        }), List.of(), body.origin()));
    }

    /** @param decimals whether all six are written, without zeros at the end */
    private void digits(Piece to, Slot length, Slot value, boolean decimals) {
        Slot place = body.local("place", Type.FLOAT64);
        Slot digit = body.local("digit", Type.FLOAT64);
        Slot begun = body.local("begun", Type.BOOL);
        Expr v = Expr.read(value);
        Expr p = Expr.read(place);
        body.set(place, Expr.of(decimals ? DECIMALS / 10 : 1e15));
        body.set(begun, Expr.of(decimals));
        var inner = body.nested(() -> {
            body.set(digit, v.over(p).call(Intrinsic.FLOOR));
            body.set(value, v.minus(Expr.read(digit).times(p)));
            Expr last = p.compare(Op.LE, Expr.of(1.0));
            body.set(begun, Expr.read(begun).or(Expr.read(digit).gt(Expr.of(0.0))).or(last));
            body.add(new Stmt.If(Expr.read(begun), body.nested(() -> put(to, length, Expr.read(digit).as(Type.INT32).plus(whole('0')))),
                    List.of(), body.origin()));
            if (decimals) {
                body.add(new Stmt.If(v.compare(Op.LE, Expr.of(0.0)), List.of(new Stmt.Break(body.origin())), List.of(), body.origin()));
            }
            body.set(place, p.over(Expr.of(10.0)).call(Intrinsic.RINT));
        });
        body.add(new Stmt.While(p.compare(Op.GE, Expr.of(1.0)), 20, inner, body.origin()));
    }
}
