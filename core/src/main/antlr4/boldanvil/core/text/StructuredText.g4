/** Structured Text and textual sequential function charts after IEC 61131-3:2013; docs/structured-text.md says what is taken. */
grammar StructuredText;

options { caseInsensitive = true; }

unit : (typeBlock | function | functionBlock)* varBlock* (chart | statements) EOF ;

library : (function | functionBlock)* EOF ;

/** The whole program of a PLC. */
plcProgram : (typeBlock | function | functionBlock | program | globals=varBlock | configuration)* EOF ;

program : PROGRAM name=ID varBlock* (chart | statements) END_PROGRAM ;

configuration : CONFIGURATION name=ID varBlock* (resource+ | resourceItem*) END_CONFIGURATION ;

resource : RESOURCE name=ID ON kind=ID varBlock* resourceItem* END_RESOURCE ;

resourceItem
    : TASK name=ID '(' (property (',' property)*)? ')' ';'                       # task
    | PROGRAM name=ID (WITH task=ID)? ':' type=ID ('(' (argument (',' argument)*)? ')')? ';'    # programUse
    ;

property : (ID | PRIORITY) ':=' expression ;

typeBlock : TYPE typeDeclaration+ END_TYPE ;

typeDeclaration : name=ID ':' (structure | enumeration | typeSpec) (':=' initializer)? ';'? ;

structure : STRUCT declaration* END_STRUCT ;

enumeration : base=ID? '(' enumerator (',' enumerator)* ')' ;

enumerator : ID (':=' expression)? ;

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

function : FUNCTION name=ID (':' result=typeSpec)? varBlock* statements END_FUNCTION ;

functionBlock : FUNCTION_BLOCK name=ID varBlock* method* (chart | statements) END_FUNCTION_BLOCK ;

method : METHOD access=ID? name=ID (':' result=typeSpec)? varBlock* statements END_METHOD ;

varBlock
    : kind=(VAR_INPUT | VAR_OUTPUT | VAR_IN_OUT | VAR_EXTERNAL | VAR_GLOBAL | VAR_TEMP | VAR) (CONSTANT | RETAIN | NON_RETAIN)*
      declaration* END_VAR
    ;

declaration : ID (',' ID)* (AT ADDRESS)? ':' (enumeration | structure | typeSpec) edge=(R_EDGE | F_EDGE)? (':=' initializer)? ';' ;

typeSpec
    : ARRAY '[' range (',' range)* ']' OF typeSpec
    | ID ('[' length=expression ']' | '(' range ')')?
    ;

range : expression '..' expression ;

initializer
    : '[' arrayValue (',' arrayValue)* ']'
    | '(' memberValue (',' memberValue)* ')'
    | expression
    ;

arrayValue : count=INTEGER '(' initializer? ')' | initializer ;

memberValue : ID ':=' initializer ;

statements : statement* ;

statement
    : ';'                                                                        # nothing
    | variable ':=' expression ';'                                               # assignment
    | variable '(' (argument (',' argument)*)? ')' ';'                           # call
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

variable : ID selector* | ADDRESS ;

selector : index | '.' ID | '.' PARTIAL ;

index : '[' expression (',' expression)* ']' ;

expression
    : '(' expression ')'                                                         # brackets
    | literal                                                                    # constant
    | variable '(' (argument (',' argument)*)? ')'                               # application
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

literal : INTEGER | BASED | REAL | DURATION | CALENDAR | TYPED | TRUE | FALSE | CHARACTERS | NAMED ;

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
VAR_IN_OUT : 'VAR_IN_OUT' ;
VAR_EXTERNAL : 'VAR_EXTERNAL' ;
VAR_GLOBAL : 'VAR_GLOBAL' ;
VAR_TEMP : 'VAR_TEMP' ;
RETAIN : 'RETAIN' ;
NON_RETAIN : 'NON_RETAIN' ;
R_EDGE : 'R_EDGE' ;
F_EDGE : 'F_EDGE' ;
AT : 'AT' ;
ON : 'ON' ;
WITH : 'WITH' ;
TYPE : 'TYPE' ;
END_TYPE : 'END_TYPE' ;
STRUCT : 'STRUCT' ;
END_STRUCT : 'END_STRUCT' ;
METHOD : 'METHOD' ;
END_METHOD : 'END_METHOD' ;
PROGRAM : 'PROGRAM' ;
END_PROGRAM : 'END_PROGRAM' ;
TASK : 'TASK' ;
RESOURCE : 'RESOURCE' ;
END_RESOURCE : 'END_RESOURCE' ;
CONFIGURATION : 'CONFIGURATION' ;
END_CONFIGURATION : 'END_CONFIGURATION' ;
END_ACTION : 'END_ACTION' ;

DURATION : ('T' | 'TIME' | 'LT' | 'LTIME') '#' '-'? ([0-9_]+ ('.' [0-9_]+)? ('D' | 'H' | 'MS' | 'US' | 'NS' | 'M' | 'S') '_'?)+ ;
CALENDAR
    : ('D' | 'DATE' | 'LD' | 'LDATE') '#' [0-9]+ '-' [0-9]+ '-' [0-9]+
    | ('TOD' | 'TIME_OF_DAY' | 'LTOD' | 'LTIME_OF_DAY') '#' [0-9]+ ':' [0-9]+ ':' [0-9]+ ('.' [0-9]+)?
    | ('DT' | 'DATE_AND_TIME' | 'LDT' | 'LDATE_AND_TIME') '#' [0-9]+ '-' [0-9]+ '-' [0-9]+ '-' [0-9]+ ':' [0-9]+ ':' [0-9]+
      ('.' [0-9]+)?
    ;
ADDRESS : '%' [IQM] [XBWDL]? [0-9]+ ('.' [0-9]+)* ;
PARTIAL : '%' [XBWD] [0-9]+ ;
CHARACTERS : ('STRING' '#')? '\'' ('$' . | ~['$\r\n])* '\'' | ('WSTRING' '#')? '"' ('$' . | ~["$\r\n])* '"' ;
BASED : ('2' | '8' | '16') '#' [0-9A-F_]+ ;
TYPED : [A-Z]+ '#' '-'? (('2' | '8' | '16') '#' [0-9A-F_]+ | [0-9_]+ ('.' [0-9_]+)? ('E' [+-]? [0-9]+)? | 'TRUE' | 'FALSE') ;
NAMED : [A-Z_] [A-Z0-9_]* '#' [A-Z_] [A-Z0-9_]* ;
REAL : [0-9] [0-9_]* '.' [0-9] [0-9_]* ('E' [+-]? [0-9]+)? | [0-9] [0-9_]* 'E' [+-]? [0-9]+ ;
INTEGER : [0-9] [0-9_]* ;
ID : [A-Z_] [A-Z0-9_]* ;

COMMENT : ('(*' .*? '*)' | '/*' .*? '*/' | '//' ~[\r\n]*) -> channel(HIDDEN) ;
PRAGMA : '{' .*? '}' -> channel(HIDDEN) ;
SPACE : [ \t\r\n]+ -> skip ;
OTHER : . ;
