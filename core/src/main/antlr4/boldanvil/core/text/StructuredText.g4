/** Structured Text and textual sequential function charts after IEC 61131-3:2013, as far as function blocks need them. */
grammar StructuredText;

options { caseInsensitive = true; }

unit : (function | functionBlock)* varBlock* (chart | statements) EOF ;

library : (function | functionBlock)* EOF ;

formula : expression EOF ;

/** An element of a physical network, stated as equations. */
element : elementBlock* equation* EOF ;

elementBlock
    : VAR_CONTACT (names ':' domain=ID ';')* END_VAR                             # contacts
    | VAR_BRANCH (across=ID ',' through=ID ':' from=ID (TO to=ID)? ';')* END_VAR # branches
    | kind=(VAR_PARAMETER | VAR_QUANTITY | VAR_INPUT | VAR_OUTPUT) (names ':' (unitText | type=ID) ';')* END_VAR     # quantities
    ;

names : ID (',' ID)* ;

unitText : '[' (~']')* ']' ;

equation
    : IF whenCase (ELSIF whenCase)* ELSE equation* END_IF ';'?                           # cases
    | expression ';'                                                             # equality
    ;

whenCase : expression (UNTIL until=expression)? THEN equation* ;

function : FUNCTION name=ID ':' ID varBlock* statements END_FUNCTION ;

functionBlock : FUNCTION_BLOCK name=ID varBlock* statements END_FUNCTION_BLOCK ;

varBlock : kind=(VAR_INPUT | VAR_OUTPUT | VAR) CONSTANT? declaration* END_VAR ;

declaration : ID (',' ID)* ':' typeSpec (':=' initializer)? ';' ;

typeSpec : ARRAY '[' range (',' range)* ']' OF ID | ID ;

range : expression '..' expression ;

initializer : expression | '[' expression (',' expression)* ']' ;

statements : statement* ;

statement
    : ';'                                                                        # nothing
    | variable ':=' expression ';'                                               # assignment
    | ID '(' (argument (',' argument)*)? ')' ';'                                 # call
    | IF expression THEN statements (ELSIF expression THEN statements)* (ELSE statements)? END_IF ';'?      # if
    | CASE expression OF (selection)+ (ELSE statements)? END_CASE ';'?           # case
    | FOR ID ':=' expression TO expression (BY expression)? DO statements END_FOR ';'?          # for
    | WHILE expression DO statements END_WHILE ';'?                              # while
    | REPEAT statements UNTIL expression END_REPEAT ';'?                         # repeat
    | EXIT ';'                                                                   # exit
    | CONTINUE ';'                                                               # continue
    | RETURN ';'                                                                 # return
    ;

selection : label (',' label)* ':' statements ;

label : expression ('..' expression)? ;

argument : ID '=>' variable | (ID ':=')? expression ;

variable : ID (index | '.' ID)* ;

index : '[' expression (',' expression)* ']' ;

expression
    : '(' expression ')'                                                         # brackets
    | literal                                                                    # constant
    | ID '(' (argument (',' argument)*)? ')'                                     # application
    | variable                                                                   # read
    | op=('-' | '+' | NOT) expression                                            # unary
    | expression op='**' expression                                              # binary
    | expression op=('*' | '/' | MOD) expression                                 # binary
    | expression op=('+' | '-') expression                                       # binary
    | expression op=('<' | '>' | '<=' | '>=') expression                         # binary
    | expression op=('=' | '<>') expression                                      # binary
    | expression op=(AND | '&') expression                                       # binary
    | expression op=XOR expression                                               # binary
    | expression op=OR expression                                                # binary
    ;

literal : INTEGER | BASED | REAL | DURATION | TYPED | TRUE | FALSE ;

chart : (step | transition | action)+ ;

step : kind=(INITIAL_STEP | STEP) ID ':' (association ';')* END_STEP ;

association : ID ('(' (ID (',' expression)?)? ')')? ;

transition : TRANSITION name=ID? ('(' PRIORITY ':=' INTEGER ')')? FROM from=stepList TO to=stepList ':=' expression ';' END_TRANSITION ;

stepList : ID | '(' ID (',' ID)+ ')' ;

action : ACTION ID ':' statements END_ACTION ;

FUNCTION : 'FUNCTION' ;
END_FUNCTION : 'END_FUNCTION' ;
FUNCTION_BLOCK : 'FUNCTION_BLOCK' ;
END_FUNCTION_BLOCK : 'END_FUNCTION_BLOCK' ;
VAR_INPUT : 'VAR_INPUT' ;
VAR_OUTPUT : 'VAR_OUTPUT' ;
VAR : 'VAR' ;
CONSTANT : 'CONSTANT' ;
END_VAR : 'END_VAR' ;
ARRAY : 'ARRAY' ;
OF : 'OF' ;
IF : 'IF' ;
THEN : 'THEN' ;
ELSIF : 'ELSIF' ;
ELSE : 'ELSE' ;
END_IF : 'END_IF' ;
CASE : 'CASE' ;
END_CASE : 'END_CASE' ;
FOR : 'FOR' ;
TO : 'TO' ;
BY : 'BY' ;
DO : 'DO' ;
END_FOR : 'END_FOR' ;
WHILE : 'WHILE' ;
END_WHILE : 'END_WHILE' ;
REPEAT : 'REPEAT' ;
UNTIL : 'UNTIL' ;
END_REPEAT : 'END_REPEAT' ;
EXIT : 'EXIT' ;
CONTINUE : 'CONTINUE' ;
RETURN : 'RETURN' ;
NOT : 'NOT' ;
MOD : 'MOD' ;
AND : 'AND' ;
XOR : 'XOR' ;
OR : 'OR' ;
TRUE : 'TRUE' ;
FALSE : 'FALSE' ;
INITIAL_STEP : 'INITIAL_STEP' ;
STEP : 'STEP' ;
END_STEP : 'END_STEP' ;
TRANSITION : 'TRANSITION' ;
END_TRANSITION : 'END_TRANSITION' ;
PRIORITY : 'PRIORITY' ;
FROM : 'FROM' ;
ACTION : 'ACTION' ;
VAR_CONTACT : 'VAR_CONTACT' ;
VAR_BRANCH : 'VAR_BRANCH' ;
VAR_PARAMETER : 'VAR_PARAMETER' ;
VAR_QUANTITY : 'VAR_QUANTITY' ;
END_ACTION : 'END_ACTION' ;

DURATION : ('T' | 'TIME' | 'LT' | 'LTIME') '#' '-'? ([0-9_]+ ('.' [0-9_]+)? ('D' | 'H' | 'MS' | 'US' | 'NS' | 'M' | 'S') '_'?)+ ;
BASED : ('2' | '8' | '16') '#' [0-9A-F_]+ ;
TYPED : [A-Z]+ '#' '-'? (('2' | '8' | '16') '#' [0-9A-F_]+ | [0-9_]+ ('.' [0-9_]+)? ('E' [+-]? [0-9]+)? | 'TRUE' | 'FALSE') ;
REAL : [0-9] [0-9_]* '.' [0-9] [0-9_]* ('E' [+-]? [0-9]+)? | [0-9] [0-9_]* 'E' [+-]? [0-9]+ ;
INTEGER : [0-9] [0-9_]* ;
ID : [A-Z_] [A-Z0-9_]* ;

COMMENT : ('(*' .*? '*)' | '/*' .*? '*/' | '//' ~[\r\n]*) -> channel(HIDDEN) ;
SPACE : [ \t\r\n]+ -> skip ;
OTHER : . ;
