import ts from "typescript";
import { describe, expect, test } from "vitest";

// Every file of the client but what is generated.
const raw = import.meta.glob<string>(["./**/*.{ts,tsx}", "!./node_modules/**", "!./dist/**", "!./api/schema.d.ts"], { query: "?raw", import: "default", eager: true });
const files = Object.entries(raw).map(([path, text]) => ({ path: path.slice(2), text }));
const names = new Set(files.map((f) => f.path));
const products = files.filter((f) => !f.path.includes(".test."));

type Arrow = { from: string; to: string; isType: boolean };

function fileOf(from: string, to: string) {
  const path = new URL(to, `file:///${from}`).pathname.slice(1);
  return [path, `${path}.ts`, `${path}.tsx`].find((p) => names.has(p));
}

const parsed = new Map(files.map((f) => [f.path, ts.createSourceFile(f.path, f.text, ts.ScriptTarget.Latest, true)]));

const within = (node: ts.Node, see: (n: ts.Node) => void) => {
  see(node);
  node.forEachChild((child) => within(child, see));
};

function arrowsOf(path: string): Arrow[] {
  const found: Arrow[] = [];
  within(parsed.get(path)!, (n) => {
    const said = ts.isImportDeclaration(n) || ts.isExportDeclaration(n) ? n.moduleSpecifier : ts.isCallExpression(n) && n.expression.kind === ts.SyntaxKind.ImportKeyword ? n.arguments[0] : undefined;
    if (!said || !ts.isStringLiteral(said) || !said.text.startsWith(".")) return;
    const to = fileOf(path, said.text);
    if (to) found.push({ from: path, to, isType: ts.isImportDeclaration(n) && n.importClause?.phaseModifier === ts.SyntaxKind.TypeKeyword });
  });
  return found;
}

const arrows = products.flatMap((f) => arrowsOf(f.path));

const folderOf = (path: string) => (path.includes("/") ? path.split("/")[0]! : "");

/** The layers from below: each knows those under it. Capabilities stand beside each other in one. */
const layers: Record<string, number> = { api: 0, parts: 1, common: 2, Conditions: 3, frame: 5, "": 6 };
const capability = 4;
const layerOf = (path: string) => layers[folderOf(path)] ?? capability;

/** A way from each node back to itself, where there is one. */
function circles(edges: readonly (readonly [string, string])[]) {
  const next = new Map<string, Set<string>>();
  for (const [from, to] of edges) if (from !== to) next.set(from, (next.get(from) ?? new Set()).add(to));
  const found: string[][] = [];
  const done = new Set<string>();
  const walk = (node: string, way: string[]) => {
    const at = way.indexOf(node);
    if (at >= 0) return void found.push([...way.slice(at), node]);
    if (done.has(node)) return;
    for (const n of next.get(node) ?? []) walk(n, [...way, node]);
    done.add(node);
  };
  for (const node of next.keys()) walk(node, []);
  return found.map((way) => way.join(" → "));
}

describe("arrows", () => {
  test("a circle is found where there is one", () => {
    expect(circles([["a", "b"], ["b", "c"], ["c", "a"], ["c", "d"]])).toEqual(["a → b → c → a"]);
    expect(circles([["a", "b"], ["a", "c"], ["b", "c"]])).toEqual([]);
  });

  test("are read from every way of importing", () => {
    expect(arrows.length).toBeGreaterThan(500);
    expect(arrows).toContainEqual({ from: "frame/routes.tsx", to: "Desk/DeskPage.tsx", isType: false });
  });

  test("go down the layers only", () => {
    const up = arrows.filter((a) => folderOf(a.from) !== folderOf(a.to) && layerOf(a.to) > layerOf(a.from));
    expect(up).toEqual([]);
  });

  test("of capabilities to each other make no circle", () => {
    expect(circles(arrows.map((a) => [folderOf(a.from), folderOf(a.to)] as const))).toEqual([]);
  });

  test("of files make no circle", () => {
    expect(circles(arrows.filter((a) => !a.isType).map((a) => [a.from, a.to] as const))).toEqual([]);
  });
});

const linesOf = (node: ts.Node) => {
  const file = node.getSourceFile();
  return file.getLineAndCharacterOfPosition(node.end).line - file.getLineAndCharacterOfPosition(node.getStart()).line + 1;
};

const where = (node: ts.Node) => {
  const file = node.getSourceFile();
  return `${file.fileName}:${file.getLineAndCharacterOfPosition(node.getStart()).line + 1}`;
};

function every<T extends ts.Node>(is: (n: ts.Node) => n is T): T[] {
  const found: T[] = [];
  for (const { path } of products)
    within(parsed.get(path)!, (n) => {
      if (is(n)) found.push(n);
    });
  return found;
}

const longestFunction = 60;
const longestFile = 200;

describe("size", () => {
  test("no function has more than 60 lines", () => {
    const functions = every((n): n is ts.FunctionLikeDeclaration => ts.isFunctionDeclaration(n) || ts.isArrowFunction(n) || ts.isFunctionExpression(n) || ts.isMethodDeclaration(n));
    expect(functions.length).toBeGreaterThan(1000);
    expect(functions.filter((f) => linesOf(f) > longestFunction).map(where)).toEqual([]);
  });

  test("no file of components has 200 lines", () => {
    expect(products.filter((f) => f.path.endsWith(".tsx") && f.text.split("\n").length - 1 >= longestFile).map((f) => f.path)).toEqual([]);
  });
});

// What is not computed: a text, a number, or an object of such.
const isFixed = (value: ts.Expression): boolean => ts.isStringLiteral(value) || ts.isNumericLiteral(value) || ts.isNoSubstitutionTemplateLiteral(value) || (ts.isConditionalExpression(value) && isFixed(value.whenTrue) && isFixed(value.whenFalse));

describe("styles", () => {
  test("stand inline only where they are computed", () => {
    const inline = every(ts.isJsxAttribute).filter((a) => a.name.getText() === "style" && a.initializer && ts.isJsxExpression(a.initializer));
    expect(inline.length).toBeGreaterThan(10);
    const fixed = inline.filter((a) => {
      const object = (a.initializer as ts.JsxExpression).expression;
      return !object || !ts.isObjectLiteralExpression(object) || object.properties.some((p) => ts.isPropertyAssignment(p) && isFixed(p.initializer));
    });
    expect(fixed.map(where)).toEqual([]);
  });

  test("take their colours from the tokens", () => {
    const coloured = products.filter((f) => f.path !== "parts/theme.tsx" && /(?<!&)#[0-9a-f]{3,8}\b(?=[\s;,)"'`])|\brgba?\(|\bhsla?\(/i.test(f.text));
    expect(coloured.map((f) => f.path)).toEqual([]);
  });
});

test("keys of questions stand in one file", () => {
  const own = every(ts.isPropertyAssignment).filter((p) => /^(queryKey|mutationKey)$/.test(p.name.getText()) && ts.isArrayLiteralExpression(p.initializer));
  expect(own.map(where)).toEqual([]);
});

test("nobody is known by the name of a role", () => {
  const roles = /"(coordinator|manager|administrator|viewer|rep|qualifier)"/i;
  const asked = every(ts.isBinaryExpression).filter((b) => /[!=]==/.test(b.operatorToken.getText()) && /\brole\b/.test(b.left.getText()) && roles.test(b.right.getText()));
  expect(asked.map(where)).toEqual([]);
});
