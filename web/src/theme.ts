/** The one theme: Mantine's controls in the bench's dress. What each class looks like stands in look/controls.module.css. */
import {
  Alert,
  Button,
  Checkbox,
  createTheme,
  Input,
  InputWrapper,
  Menu,
  Modal,
  NativeSelect,
  Notification,
  Progress,
  SegmentedControl,
  Slider,
  Tabs,
  Tooltip,
  type MantineColorsTuple,
} from "@mantine/core";
import look from "./look/controls.module.css";

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
    Button: Button.extend({ classNames: { root: look.button } }),
    Input: Input.extend({ classNames: { input: look.input, section: look.section } }),
    InputWrapper: InputWrapper.extend({ classNames: { label: look.label, error: look.error } }),
    NativeSelect: NativeSelect.extend({ defaultProps: { withErrorStyles: false } }),
    Checkbox: Checkbox.extend({
      defaultProps: { size: "xs" },
      classNames: { body: look.tick, input: look.tickBox, icon: look.tickIcon, label: look.tickLabel },
    }),
    Alert: Alert.extend({
      defaultProps: { radius: 0 },
      classNames: { root: look.notice, title: look.noticeTitle, message: look.noticeMessage },
    }),
    Modal: Modal.extend({
      defaultProps: { closeButtonProps: { "aria-label": "Close" } },
      classNames: { content: look.modal, header: look.modalHeader, title: look.modalTitle },
    }),
    Tabs: Tabs.extend({ classNames: { list: look.tabs, tab: look.tab } }),
    SegmentedControl: SegmentedControl.extend({
      defaultProps: { size: "xs", withItemsBorders: false },
      classNames: { root: look.segments, label: look.segment, indicator: look.segmentFill },
    }),
    Menu: Menu.extend({
      defaultProps: { shadow: "none" },
      classNames: { dropdown: look.menu, item: look.menuItem, label: look.menuLabel },
    }),
    Tooltip: Tooltip.extend({
      defaultProps: { multiline: true, maw: 340, events: { hover: true, focus: true, touch: true } },
      classNames: { tooltip: look.tip },
    }),
    Progress: Progress.extend({
      defaultProps: { size: 9 },
      classNames: { root: look.track, section: look.bar },
    }),
    Slider: Slider.extend({
      defaultProps: { size: 6, label: null },
      classNames: { track: look.track, bar: look.bar, thumb: look.thumb },
    }),
    Notification: Notification.extend({
      defaultProps: { radius: 0 },
      classNames: { root: look.note, title: look.noteTitle, description: look.noteText },
    }),
  },
});
