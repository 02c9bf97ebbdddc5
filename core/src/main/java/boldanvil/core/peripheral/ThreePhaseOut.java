package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;

/** Three pairs of outputs of one PWM timer. */
final class ThreePhaseOut extends Pwm {
    private static final int PHASES = 3;

    ThreePhaseOut() {
        super(TerminalKind.THREE_PHASE_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "three-phase").filter(t -> t.deadTime() != null && t.channels().size() >= PHASES).map(t -> {
            List<List<String>> legs = new ArrayList<>();
            t.channels().subList(0, PHASES).forEach(x -> {
                legs.add(x.pins());
                legs.add(x.complements());
            });
            return TimerChannels.whole(t, kind(), TimerChannels.ways(legs));
        }).toList();
    }

    @Override
    public Sharing sharing() {
        return Sharing.WHOLE_TIMER;
    }

    @Override
    public String pinRole(int pin) {
        return " " + "ABC".charAt(pin / 2) + (pin % 2 == 0 ? " high" : " low");
    }

    @Override
    int[] outputs(Board board, Terminal t, BoardSetup setup) {
        return new int[] {0, 1, 2};
    }
}
