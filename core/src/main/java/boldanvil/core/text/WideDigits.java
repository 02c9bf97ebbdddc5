package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.List;

/** Integers of 64 bits as texts and back, to their last digit. */
final class WideDigits {
    private final Expressions expressions;
    private final BodyCompiler body;
    private final Strings strings;

    WideDigits(Expressions expressions, BodyCompiler body, Strings strings) {
        this.expressions = expressions;
        this.body = body;
        this.strings = strings;
    }

    /** The integer of 64 bits at the beginning of a text, to its last digit; what does not fit is held at the end of the range. */
    Expr parsed(Strings.Piece p, Type t) {
        Slot i = body.local("i", Type.INT32);
        Slot sum = body.local("sum", Type.UINT64);
        Slot digits = body.local("digits", Type.INT32);
        Slot minus = body.local("minus", Type.BOOL);
        body.set(sum, Expr.of(Type.UINT64, 0));
        body.set(digits, Strings.whole(0));
        body.set(i, Strings.whole(0));
        Expr ch = p.at(Expr.read(i)).as(Type.INT32);
        body.set(minus, ch.eq(Strings.whole('-')));
        body.set(i, Strings.whole(1).when(Expr.read(minus).or(ch.eq(Strings.whole('+'))), Strings.whole(0)));
        Expr most = Expr.of(Type.UINT64, Type.MOST_UINT64);
        Expr before = Expr.read(sum);
        var inner = body.nested(() -> {
            Slot digit = body.local("digit", Type.INT32);
            body.set(digit, ch.minus(Strings.whole('0')));
            body.add(new Stmt.If(Expr.read(digit).lt(Strings.whole(0)).or(Expr.read(digit).gt(Strings.whole(9))),
                    List.of(new Stmt.Break(body.origin())), List.of(), body.origin()));
            Expr next = before.times(Expr.of(Type.UINT64, 10)).plus(Expr.read(digit).as(Type.UINT64));
            Expr tooLarge = before.gt(most.minus(Expr.read(digit).as(Type.UINT64)).over(Expr.of(Type.UINT64, 10)));
            body.set(sum, most.when(tooLarge, next));
            body.set(digits, Expr.read(digits).plus(Strings.whole(1)));
            body.set(i, Expr.read(i).plus(Strings.whole(1)));
        });
        body.add(new Stmt.While(Expr.read(i).lt(Strings.whole(p.capacity())), DataType.Chars.MOST + 2, inner, body.origin()));
        expressions.raise(Expr.read(digits).eq(Strings.whole(0)), Fault.DOMAIN);
        Expr value = before.as(t);
        return body.kept("number", (t == Type.INT64 ? value.negated() : Expr.of(t, 0)).when(Expr.read(minus), value));
    }

    /** An integer of 64 bits, to its last digit. */
    void digits(Strings.Piece to, Slot length, Expr value) {
        Slot rest = body.local("rest", Type.UINT64);
        if (value.type() == Type.INT64) {
            Expr given = body.kept("given", value);
            body.add(new Stmt.If(given.lt(Expr.of(Type.INT64, 0)), body.nested(() -> {
                strings.put(to, length, Strings.whole('-'));
                body.set(rest, given.negated().wrap(Type.UINT64));
            }), body.nested(() -> body.set(rest, given.wrap(Type.UINT64))), body.origin()));
        } else {
            body.set(rest, value);
        }
        Slot place = body.local("place", Type.UINT64);
        Slot begun = body.local("begun", Type.BOOL);
        Expr p = Expr.read(place);
        body.set(place, Expr.of(Type.UINT64, 1e19));
        body.set(begun, Expr.of(false));
        var inner = body.nested(() -> {
            Slot digit = body.local("digit", Type.UINT64);
            body.set(digit, Expr.read(rest).over(p));
            body.set(rest, Expr.read(rest).minus(Expr.read(digit).times(p)));
            body.set(begun, Expr.read(begun).or(Expr.read(digit).gt(Expr.of(Type.UINT64, 0))).or(p.eq(Expr.of(Type.UINT64, 1))));
            body.add(new Stmt.If(Expr.read(begun), body.nested(() -> strings.put(to, length, Expr.read(digit).as(Type.INT32)
                    .plus(Strings.whole('0')))),
                    List.of(), body.origin()));
            body.set(place, p.over(Expr.of(Type.UINT64, 10)));
        });
        body.add(new Stmt.While(p.gt(Expr.of(Type.UINT64, 0)), 21, inner, body.origin()));
    }
}
