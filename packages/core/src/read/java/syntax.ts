import type { GrammarNames } from '../syntax/grammar.js'

/** Kinds of nodes in a Java syntax tree. The order is that of `KIND_NAMES`. */
export enum Kind {
  Other, Identifier, DecimalIntegerLiteral, HexIntegerLiteral, OctalIntegerLiteral, BinaryIntegerLiteral,
  DecimalFloatingPointLiteral, HexFloatingPointLiteral, True, False, CharacterLiteral, StringLiteral, NullLiteral,
  BooleanType, VoidType, This, Super, Program, CastExpression, AssignmentExpression, BinaryExpression,
  InstanceofExpression, LambdaExpression, InferredParameters, TernaryExpression, UnaryExpression, UpdateExpression,
  ArrayCreationExpression, DimensionsExpr, ParenthesizedExpression, ClassLiteral, ObjectCreationExpression,
  FieldAccess, TemplateExpression, ArrayAccess, MethodInvocation, ArgumentList, MethodReference, TypeArguments,
  Wildcard, Dimensions, SwitchExpression, SwitchBlock, SwitchBlockStatementGroup, SwitchRule, SwitchLabel, Pattern,
  TypePattern, RecordPattern, RecordPatternBody, RecordPatternComponent, Guard, Block, ExpressionStatement,
  LabeledStatement, AssertStatement, DoStatement, BreakStatement, ContinueStatement, ReturnStatement,
  YieldStatement, SynchronizedStatement, ThrowStatement, TryStatement, CatchClause, CatchFormalParameter, CatchType,
  FinallyClause, TryWithResourcesStatement, ResourceSpecification, Resource, IfStatement, WhileStatement,
  ForStatement, EnhancedForStatement, MarkerAnnotation, Annotation, AnnotationArgumentList, ElementValuePair,
  ElementValueArrayInitializer, ModuleDeclaration, PackageDeclaration, ImportDeclaration, Asterisk, EnumDeclaration,
  EnumBody, EnumBodyDeclarations, EnumConstant, ClassDeclaration, Modifiers, TypeParameters, TypeParameter,
  TypeBound, Superclass, SuperInterfaces, TypeList, Permits, ClassBody, StaticInitializer, ConstructorDeclaration,
  ConstructorBody, ExplicitConstructorInvocation, ScopedIdentifier, FieldDeclaration, RecordDeclaration,
  AnnotationTypeDeclaration, AnnotationTypeBody, AnnotationTypeElementDeclaration, InterfaceDeclaration,
  ExtendsInterfaces, InterfaceBody, ConstantDeclaration, VariableDeclarator, ArrayInitializer, AnnotatedType,
  ScopedTypeIdentifier, GenericType, ArrayType, IntegralType, FloatingPointType, FormalParameters, FormalParameter,
  ReceiverParameter, SpreadParameter, Throws, LocalVariableDeclaration, MethodDeclaration,
  CompactConstructorDeclaration, TypeIdentifier, UnderscorePattern, StringFragment, EscapeSequence,
  MultilineStringFragment, StringInterpolation, Error
}

/** Fields in which nodes stand. The order is that of `FIELD_NAMES`. */
export enum Field {
  None, Alternative, Arguments, Array, Body, Condition, Consequence, Constructor, Declarator, Dimensions, Element,
  Field, Index, Init, Interfaces, Key, Left, Modifiers, Name, Object, Operand, Operator, Package, Parameters,
  Pattern, Permits, Resources, Right, Scope, Superclass, Type, TypeArguments, TypeParameters, Update, Value
}

const snake = (name: string) => name.replace(/(?!^)[A-Z]/g, '_$&').toLowerCase()
const namesOf = (numbered: object) => Object.keys(numbered).filter(key => !/^\d/.test(key)).map(snake)

/** Uses every construct whose tree the reader looks into, old and new. */
const SAMPLE = `@Deprecated package a.b; import static c.D.*; import e.F;
/** Doc. */ class A<T extends B & C> extends G<T> implements H { int x[] = {1}, y; @Foo(a = 1, b = {}) A(int... z) throws E { super(1); this.x = z; }
static { } { } <U> U m(T t, final int[]... all) { for (String s : list) { a.b.C.d(e -> e.f(), (p, q) -> { }, X::new, int[]::new); } /* in */
Object o = switch (k) { case 1, 2 -> 3; case String q when q.f() -> { yield 4; } case Rec(int a, var b) -> 5; default -> 0; };
switch (k) { case 1: break; default: } if (o instanceof final String s2 && s2.x()) { } else { } new Outer<>(1) { int q; }; o.new Inner();
try (var r = f(); r2) { } catch (A | B e) { } finally { } int[] arr = new int[3][]; Foo.this.bar(); Foo.super.bar(); label: while (true) break label;
do { i++; } while (-i < 'c'); assert b : "x\\n"; synchronized (this) { } return (T) (a ? b : c[1] += 2); } }
enum E implements I { A(1) { void m() { } }, B; int f; } record R<T>(int a, String... b) { R { } static int c; } @interface Ann { int v() default 1; int C = 2; }
sealed interface S extends P, Q permits V { default void d() { String t = """
  text
  """; } Map.Entry<? extends K, ? super V[]> e(); }`

/** Comments and texts in quotes, as the grammar has them: in a string it does not mind where a line ends. */
const COMMENTS_AND_QUOTES = /"""(?:\\[\s\S]|[^\\])*?"""|"(?:\\[\s\S]|[^"\\])*"|'(?:\\.|[^'\\\n])+'|\/\*[\s\S]*?\*\/|\/\/[^\n]*/g

export const JAVA_GRAMMAR: GrammarNames = {
  comments: { tokens: COMMENTS_AND_QUOTES, unsure: '\\{' },
  kinds: namesOf(Kind), fields: namesOf(Field), skipped: ['line_comment', 'block_comment'], errorKind: Kind.Error, sample: SAMPLE
}
