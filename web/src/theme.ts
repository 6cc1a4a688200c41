import { Alert, Button, createTheme, Input, InputWrapper, type MantineColorsTuple } from "@mantine/core";

const graphite: MantineColorsTuple = [
  "#f8f9f5",
  "#eceee8",
  "#dfe2da",
  "#c3c8c0",
  "#9aa29f",
  "#59636a",
  "#414a4f",
  "#2c3438",
  "#1f2528",
  "#14181a",
];

export const theme = createTheme({
  primaryColor: "graphite",
  primaryShade: { light: 8, dark: 2 },
  colors: { graphite },
  fontFamily: '"Spline Sans Variable", sans-serif',
  fontFamilyMonospace: '"Spline Sans Mono Variable", monospace',
  defaultRadius: 2,
  cursorType: "pointer",
  respectReducedMotion: true,
  components: {
    Button: Button.extend({ defaultProps: { size: "xs" }, classNames: { root: "bench-button" } }),
    Input: Input.extend({ classNames: { input: "bench-input" } }),
    InputWrapper: InputWrapper.extend({ classNames: { label: "bench-label", error: "bench-wrong" } }),
    Alert: Alert.extend({
      defaultProps: { radius: 0 },
      classNames: { root: "bench-notice", title: "bench-notice-title", message: "bench-notice-message" },
    }),
  },
});
