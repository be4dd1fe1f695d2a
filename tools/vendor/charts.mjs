// The parts of Apache ECharts that the plain charts need; tools/vendor.sh bundles them.
import { BarChart, LineChart } from "echarts/charts";
import { AriaComponent, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import * as core from "echarts/core";
import { SVGRenderer } from "echarts/renderers";

core.use([BarChart, LineChart, AriaComponent, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer]);
export const init = core.init;
